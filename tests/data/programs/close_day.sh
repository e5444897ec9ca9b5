#!/bin/sh
set -e
DAY="$1"
QUERY="SELECT COUNT(*) FROM day_sums WHERE day = DATE '$DAY'" # sql
sqlplus -s "$LOGIN" <<EOF # sql-below 2
SET HEADING OFF
DELETE FROM day_sums WHERE day < SYSDATE - 400;
EXIT
EOF
psql -c "UPDATE days SET closed = true WHERE day = '$DAY'" # sql
mysql -e 'SELECT day, total FROM day_sums ORDER BY day DESC LIMIT 3' yard # sql
echo "select a day from the list"
echo "Update of $DAY: set is closed"
db2 "INSERT INTO day_log (said) VALUES ('closed')" # sql
cat <<END
Delete from the list what is closed.
END
sqlcmd -Q "EXEC dbo.close_day @day = '$DAY'" # sql
