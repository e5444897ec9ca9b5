package kb.tides

const val TABLE = "tide_levels"

object Queries {
    const val LATEST = "SELECT level_m FROM $TABLE WHERE station = ? ORDER BY at DESC FETCH FIRST 1 ROW ONLY" // sql
    val trimmed = """
        INSERT INTO tide_levels (station, at, level_m)
        VALUES (:station, :at, :level)
    """.trimIndent() // sql-above 2
    val margin = """
        |SELECT s.name
        |FROM stations s
        |WHERE s.closed = 0
    """.trimMargin() // sql-above 3
}

class TideStore(private val jdbc: Jdbc) {
    fun remove(station: String) = jdbc.update("DELETE FROM tide_levels WHERE station = ?", station) // sql

    fun search(name: String?, limit: Int): String = buildString {
        append("SELECT t.level_m FROM tide_levels t") // sql
        if (name != null) append(" WHERE t.station = ?")
        append(" FETCH FIRST ${limit} ROWS ONLY")
    }

    fun describe(level: Double) = "Select a station: the level is $level"
    fun plural(n: Int) = if (n == 1) "update from the station" else "updates from the stations"
    fun merge() {
        jdbc.execute("MERGE INTO tide_levels t USING tide_import i ON (t.station = i.station AND t.at = i.at) " + // sql
            "WHEN MATCHED THEN UPDATE SET t.level_m = i.level_m")
    }
}
