const mysql = require('mysql2');

module.exports = {
  all: "SELECT toll_id, price FROM tolls", // sql
  byShip: 'SELECT toll_id FROM tolls ' + // sql
    'WHERE ship = ?',
  say: "select tolls from a ship",
};

function pay(db, id, cb) {
  db.query("UPDATE tolls SET paid_at = NOW() WHERE toll_id = " + id, cb); // sql
  db.query('INSERT INTO toll_log SET ?', { id }, cb); // sql
  var long = "SELECT t.toll_id, t.price \
    FROM tolls t WHERE t.paid_at IS NULL"; // sql-above 1
  $("#tolls").html("<select name='toll'><option>from</option></select>");
  alert("Delete the toll from this list?");
  db.query(`CALL settle_toll(?)`, [id]); // sql
  db.query("REPLACE INTO toll_sums (ship, total) SELECT ship, SUM(price) FROM tolls GROUP BY ship"); // sql
  return `DROP TABLE IF EXISTS ${id}_temp`; // sql
}
