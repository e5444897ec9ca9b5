package kestrelbay.portal;

import java.sql.CallableStatement;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;

/** Port calls as agents see them. Made up, like everything in this harbour. */
public class CallService {
    private static final String COLUMNS = "c.call_id, c.eta, c.status, v.name";
    private static final String EXPECTED =
        "SELECT " + COLUMNS + " FROM port_calls c JOIN vessels v ON v.vessel_id = c.vessel_id "
            + "WHERE c.eta BETWEEN SYSDATE AND SYSDATE + 1 AND NVL(c.status, 'X') <> 'CANCELLED'";
    private static final String NEXT_ID = "SELECT port_call_seq.NEXTVAL FROM dual";

    public PreparedStatement expected(Connection connection) throws SQLException {
        return connection.prepareStatement(EXPECTED);
    }

    public String search(String flag, boolean berthed) {
        StringBuilder sql = new StringBuilder("SELECT c.call_id, DECODE(c.status, 'B', 'berthed', 'expected') state");
        sql.append(" FROM port_calls c, berths b WHERE c.berth_id = b.berth_id (+)");
        if (berthed) {
            sql.append(" AND c.berth_id IS NOT NULL");
        }
        sql.append(" AND ROWNUM <= 50");
        return sql.toString();
    }

    public void sort(Connection connection, String column) throws SQLException {
        connection.createStatement().executeQuery("SELECT call_id FROM port_calls ORDER BY " + column);
    }

    public void cancel(Connection connection, long call) throws SQLException {
        try (CallableStatement statement = connection.prepareCall("{call cancel_call(?, ?)}")) {
            statement.setLong(1, call);
            statement.execute();
        }
    }

    public String help() {
        return "Select a call from the list, then choose Update.";
    }
}
