using System.Data;
using Dapper;

namespace KestrelBay.Ferries
{
    public class FerryStore
    {
        private const string Columns = "ferry_id, name, seats";
        private const string All = "SELECT " + Columns + " FROM ferries"; // sql
        private readonly string _open = All + " WHERE retired_on IS NULL"; // sql
        private static readonly string Sailings = @"
            SELECT s.sailing_id, s.departs_at
            FROM sailings s
            WHERE s.ferry_id = @ferry AND s.note <> 'it''s ""full""'"; // sql-above 2

        public IEnumerable<Ferry> ByName(IDbConnection db, string name) =>
            db.Query<Ferry>($"SELECT {Columns} FROM ferries WHERE name = @name", new { name }); // sql

        public int Retire(IDbConnection db, int id)
        {
            return db.Execute("UPDATE ferries SET retired_on = GETDATE() WHERE ferry_id = @id", new { id }); // sql
        }

        public DataTable Search(string where, bool ordered)
        {
            var sql = new StringBuilder();
            sql.AppendLine("SELECT f.name, COUNT(*) AS trips"); // sql
            sql.AppendLine("FROM ferries f JOIN sailings s ON s.ferry_id = f.ferry_id");
            sql.AppendFormat("WHERE {0}", where);
            sql.AppendLine(" GROUP BY f.name");
            if (ordered) sql.Append(" ORDER BY trips DESC");
            return Fill(sql.ToString());
        }

        public void Raw(FerryContext context, int seats)
        {
            context.Ferries.FromSqlRaw("SELECT * FROM ferries WHERE seats > {0}", seats); // sql
            context.Ferries.FromSqlInterpolated($"SELECT * FROM ferries WHERE seats > {seats}"); // sql
            context.Database.ExecuteSqlRaw("EXEC dbo.close_sailings @p0", 1); // sql
            var text = """
                DELETE FROM sailings
                WHERE departs_at < @day
                """; // sql-above 2
            var command = new SqlCommand { CommandText = "INSERT INTO log_lines (said) VALUES (@said)" }; // sql
            command.CommandText = "TRUNCATE TABLE import_rows"; // sql
            command.CommandText = "dbo.refresh_all";
            command.CommandType = CommandType.StoredProcedure;
            var linq = from f in context.Ferries where f.Seats > 3 select f;
            Console.WriteLine("Select a ferry from the list (or press Esc)");
            throw new InvalidOperationException($"Delete from {Columns} failed");
        }

        public string Title() => "Update of sailings - set of " + DateTime.Now;
        public string Top(int n) => $"SELECT TOP ({n}) name FROM ferries ORDER BY seats DESC"; // sql
        public string Concat(string table) => string.Concat("SELECT COUNT(*) FROM ", table); // sql
        public string Formatted(string table) => string.Format("SELECT COUNT(*) FROM {0} WHERE closed = 0", table); // sql
    }
}
