#!/usr/bin/perl
use strict;
use DBI;

my $table = 'crane_moves';
my $all = $dbh->selectall_arrayref("SELECT crane_id, name FROM cranes"); # sql
my $sth = $dbh->prepare('SELECT load_kg FROM crane_moves WHERE crane_id = ? AND moved_at > SYSDATE - 1'); # sql
$dbh->do(q{DELETE FROM crane_moves WHERE load_kg = 0}); # sql
$dbh->do(qq{UPDATE $table SET load_kg = 0 WHERE crane_id = ?}, undef, $id); # sql

my $sql = "SELECT c.name, SUM(m.load_kg) "; # sql
$sql .= "FROM cranes c JOIN crane_moves m ON m.crane_id = c.crane_id ";
$sql .= "GROUP BY c.name";

my $long = <<"END_SQL"; # sql-below 1
    SELECT c.name
    FROM cranes c
    WHERE c.idle_since < ?
END_SQL

my $plain = <<'END_TEXT';
Select a crane from the list, then press Enter.
END_TEXT

$dbh->do("INSERT INTO crane_log (said) VALUES (" . $dbh->quote($said) . ")"); # sql
print "Update of the cranes: set brakes first\n";
die "Delete from $table failed: $!" unless $ok;
my $rows = $dbh->selectrow_array(<<SQL, undef, 3); # sql-below 1
SELECT COUNT(*) FROM crane_moves WHERE crane_id = ?
SQL
=pod

SELECT nothing FROM the_manual WHERE page = 3

=cut
if ($line =~ /select (\w+) from (\w+)/i) { warn "select from where\n"; }
