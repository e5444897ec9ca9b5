const list = "SELECT pilot_id, name FROM pilots WHERE is_active = 1"; // sql
async function rest(db, from, table) {
  await db.query(`SELECT a, b FROM roster WHERE day >= $1`, [from]); // sql
  await db.query(`SELECT a FROM ${table} LIMIT 5`); // spliced
  console.log("Insert your card, please: " + from);
  const label = "select-from-list";
  const css = "table { with: 3px }";
  return db.raw("update pilots set seen_at = now() " + "where pilot_id = ?"); // sql
}
