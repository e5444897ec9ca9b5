LISTED = "SELECT crew_id FROM crew WHERE call_id = ?" # sql
def find(db, table)
  db.execute("SELECT name FROM #{table}") # spliced
  rows = db.query(<<~SQL) # sql-below 1
    SELECT c.name FROM crew c WHERE c.left_at IS NULL
  SQL
  puts "select a crew member from the list"
  rows
end
