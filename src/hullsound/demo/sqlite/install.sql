.bail on
.read dump.sql
.read code.sql
.headers on
