<?php
// select all boats from the yard
$q = "SELECT boat_id, boat_name FROM boat WHERE customer_id = ?"; // sql
$r = $db->query('SELECT IFNULL(town, "-") FROM customer'); // sql
$t = "SELECT * FROM $table WHERE id = {$id}"; // spliced
$sql = "INSERT INTO lift (boat_id, planned_at) "; // sql
$sql .= "VALUES (:boat, NOW())";
$h = <<<SQL
SELECT h.hoist_name
FROM hoist h
SQL; // sql-above 2
echo "Update your profile and set a new password";
$x = 'Select a boat from the list to go on with';
$db->exec("UPDATE boat SET hull = 'steel' WHERE boat_id = " . (int) $id); // spliced
