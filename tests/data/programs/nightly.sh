#!/bin/sh
# select the log from yesterday
echo "Update of statistics begins"
psql -d port -c "DELETE FROM mail_queue WHERE sent_at < now() - interval '7 days'" # sql
sqlplus -s port <<SQL
DELETE FROM error_log WHERE logged_at < SYSDATE - 30;
-- ^ sql
SQL
