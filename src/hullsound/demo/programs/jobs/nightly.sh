#!/bin/sh
# Nightly work of the harbour. Made up.
echo "Delete of old errors begins"
sqlplus -s "$HARBOUR" <<SQL
DELETE FROM error_log WHERE logged_at < SYSDATE - 30;
UPDATE mail_queue SET body = NULL WHERE ROWNUM <= 1000 AND sent_at IS NOT NULL;
SQL
