class Lights
  ALL = 'SELECT light_id, name FROM lights'.freeze # sql
  OPEN = %q(SELECT name FROM lights WHERE closed_at IS NULL) # sql
  TABLE = 'lights'

  def find(id)
    Light.find_by_sql(["SELECT * FROM lights WHERE light_id = ?", id]) # sql
    Light.connection.execute("UPDATE lights SET lit = 1 WHERE light_id = #{id}") # sql
    Light.where("name LIKE ?", "a%").order("name")
    sql = "SELECT l.name " \
          "FROM lights l " \
          "WHERE l.lit = 1" # sql-above 2
    sql << " ORDER BY l.name"
    more = <<-SQL
      DELETE FROM light_hours
      WHERE light_id = 3
    SQL
    # sql-above 3
    puts "Select a light from the list"
    raise "Update failed: set the lamp #{TABLE}"
    execute %{INSERT INTO light_log (said) VALUES ('on')} # sql
    execute "SELECT COUNT(*) FROM #{TABLE} WHERE lit = 0" # sql
  end

  def up
    execute "CREATE INDEX lights_name ON lights (name)" # sql
    say 'create index for the lights'
  end
end
