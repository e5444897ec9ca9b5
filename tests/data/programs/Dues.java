package kb.dues;

import java.util.Map;

final class Dues {
    private static final Map<String, String> LISTS = Map.of(
            "open", "SELECT due_id FROM dues WHERE paid_at IS NULL", // sql
            "help", "select one of the lists");

    String list(int kind) {
        return switch (kind) {
            case 1 -> "SELECT due_id, amount FROM dues"; // sql
            case 2 -> "SELECT due_id FROM old_dues"; // sql
            default -> throw new IllegalArgumentException("Select a list from 1 to 2");
        };
    }

    String formatted(String table) {
        return """
                DELETE FROM %s
                WHERE paid_at < SYSDATE - 400
                """.formatted(table); // sql-above 2
    }

    void run(Database db, boolean all) {
        db.inTransaction(t -> t.update("UPDATE dues SET paid_at = SYSDATE WHERE due_id = ?", 3)); // sql
        db.query(all ? "SELECT * FROM dues" : "SELECT * FROM dues WHERE paid_at IS NULL"); // sql
        db.log("Update of the dues: set " + all);
    }
}
