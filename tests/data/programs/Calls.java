package kb.port;

import java.sql.*;
import java.util.logging.Logger;

public class Calls {
    private static final Logger LOG = Logger.getLogger("Select a berth from the list");
    private static final String BY_SHIP = "SELECT call_id, berth_id FROM port_calls WHERE vessel_id = ?"; // sql
    private static final String TABLE = "port_calls";
    static final String COLUMNS = "call_id, vessel_id";
    static final String LISTED = "SELECT " + COLUMNS + " FROM " + TABLE + " ORDER BY call_id"; // sql

    void close(Connection c, int id) throws SQLException {
        try (PreparedStatement s = c.prepareStatement("UPDATE port_calls SET status = 'CLOSED', closed_at = SYSDATE " + // sql
                "WHERE call_id = ?")) {
            s.setInt(1, id);
            s.executeUpdate();
        }
        LOG.info("Update of call " + id + " is done");
        String hint = "Delete the file and insert it again";
        System.out.println("Insert coin to continue");
    }

    String find(String name, boolean open) {
        StringBuilder sql = new StringBuilder("SELECT v.name, NVL(v.flag, '?') FROM vessels v"); // sql
        sql.append(" WHERE v.name LIKE ?");
        if (open) {
            sql.append(" AND v.closed_at IS NULL");
        }
        return sql.toString();
    }

    ResultSet byColumn(Statement s, String column) throws SQLException {
        return s.executeQuery("SELECT * FROM berths ORDER BY " + column); // spliced
    }

    String block() {
        return """
            SELECT b.name
            FROM berths b
            WHERE ROWNUM <= 5
            """; // sql-above 3
    }

    @Query("DELETE FROM crew_lists WHERE call_id = :call") // sql
    void clear(int call) {}

    @NamedQuery(name = "open", query = "select c from Call c where c.open = true")
    void entity() {}

    void run(Connection c) throws SQLException {
        CallableStatement s = c.prepareCall("{call pkg_tariff.recalculate(?, ?)}"); // sql
        c.createStatement().execute("BEGIN pkg_invoice.close_month(:1); END;"); // sql
        String path = "select/from/here";
        String sentence = "Select one of the berths below, then press Enter.";
        String with = "With kind regards, the harbour";
        String create = "Create table reservation for two";
    }
}
