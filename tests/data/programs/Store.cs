using System.Data.SqlClient;

class Store
{
    const string Base = "SELECT TOP 10 id, name FROM dbo.ticket"; // sql
    string Find(string name, string order)
    {
        var sql = Base + " WHERE name = @name"; // sql
        var exact = @"SELECT [first name]
                      FROM dbo.[guest]
                      WHERE note = ""x"""; // sql-above 2
        var plain = $"UPDATE dbo.ticket SET price = {order} WHERE id = @id"; // spliced
        var raw = """
            DELETE FROM dbo.guest WHERE GETDATE() > left_at
            """; // sql-above 1
        var title = "Select from the menu";
        Log("Insert into slot failed: " + name);
        return sql + exact + plain + raw + title;
    }
    [HttpGet("select/{id}/from/{place}")]
    void Get() { var s = new SqlCommand("EXEC dbo.close_day @day = @day"); } // sql
}
