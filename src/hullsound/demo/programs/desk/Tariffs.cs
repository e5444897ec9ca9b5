using System;
using Oracle.ManagedDataAccess.Client;

namespace KestrelBay.Desk
{
    // The desk program of the billing office. Made up.
    public class Tariffs
    {
        private const string Valid = "SELECT service_code, unit_price FROM tariffs WHERE valid_from <= SYSDATE";

        public string ForService(string order)
        {
            var sql = Valid + " AND service_code = :code";
            var listed = $"SELECT service_code FROM services ORDER BY {order}";
            var raised = @"UPDATE tariffs
                           SET unit_price = ROUND(unit_price * 1.03, 2)
                           WHERE valid_until IS NULL OR valid_until > ADD_MONTHS(SYSDATE, 1)";
            Console.WriteLine("Update of tariffs begins");
            return sql + listed + raised;
        }

        public OracleCommand Month(OracleConnection connection)
        {
            return new OracleCommand("BEGIN pkg_invoice.close_month(:month); END;", connection);
        }
    }
}
