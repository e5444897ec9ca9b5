package kb.berths;

import java.util.*;

@Repository
public interface Berths extends JpaRepository<Berth, Long> {
    @Query("select b from Berth b where b.quay = :quay")
    List<Berth> byQuay(String quay);

    @Query(value = "SELECT * FROM berths b WHERE b.depth_m >= :depth AND b.closed_at IS NULL", nativeQuery = true) // sql
    List<Berth> deepEnough(double depth);

    @Modifying
    @Query(nativeQuery = true, value = // the text is below
            "UPDATE berths SET closed_at = SYSDATE " + // sql
            "WHERE berth_id = :id")
    int close(long id);

    @Select({"SELECT berth_id, name", // sql
            "FROM berths",
            "WHERE quay = #{quay}"})
    List<Berth> mapped(String quay);

    @Delete("DELETE FROM berth_blocks WHERE berth_id = #{id}") // sql
    int unblock(long id);
}

enum Lists {
    OPEN("SELECT name FROM berths WHERE closed_at IS NULL"), // sql
    CLOSED("SELECT name FROM berths WHERE closed_at IS NOT NULL"), // sql
    NONE("nothing to select from the berths");

    final String sql;

    Lists(String sql) {
        this.sql = sql;
    }
}

class BerthStore {
    static final String SCHEMA = "harbour.";
    private static final String FROM = " FROM " + SCHEMA + "berths b";
    private final String byName = "SELECT b.*" + FROM + " WHERE b.name = ?"; // sql

    List<Map<String, Object>> free(JdbcTemplate jdbc, Date day, boolean deep) {
        String condition = deep ? "b.depth_m > 12" : "b.depth_m <= 12";
        String sql = String.format("SELECT b.name FROM berths b WHERE %s AND b.free_on = ?", condition); // sql
        log.debug("Running {} for {}", sql, day);
        return jdbc.queryForList(sql, day);
    }

    int count(JdbcTemplate jdbc) {
        return jdbc.queryForObject("select count(*) from berths", Integer.class); // sql
    }

    String report(int year) {
        StringBuffer text = new StringBuffer();
        text.append("SELECT b.name, SUM(u.hours) "); // sql
        text.append("FROM berths b JOIN berth_usage u ON u.berth_id = b.berth_id ");
        text.append("WHERE EXTRACT(YEAR FROM u.day) = ").append(year);
        text.append(" GROUP BY b.name");
        return text.toString();
    }

    String union(String quay) {
        String sql = "SELECT name FROM berths WHERE quay = 'N'"; // sql
        sql = sql + " UNION ALL SELECT name FROM old_berths";
        sql += " ORDER BY name";
        return sql;
    }

    void lock(Connection c, long id) throws SQLException {
        try (var s = c.prepareStatement("""
                SELECT berth_id
                  FROM berths
                 WHERE berth_id = ?
                   FOR UPDATE NOWAIT
                """)) { // sql-above 4
            s.setLong(1, id);
        }
    }

    String joined() {
        return String.join(" ", "SELECT name", "FROM berths", "WHERE quay = 'S'"); // sql
    }

    void words() {
        throw new IllegalStateException("Update failed: set the berth first");
    }

    String header = "With berths (north), as ( planned )";
    String path = "DELETE /berths/{id}";
    String graph = "query { select(from: \"berths\") }";
    String css = "select.from { color: red }";
    String sequence = "SELECT berth_seq.NEXTVAL FROM dual"; // sql
    String batch = "INSERT INTO berth_usage (berth_id, day, hours) VALUES (?, ?, ?)"; // sql
}
