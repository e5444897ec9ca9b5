#include <string>
#include "db.h"

static const char *kLatest = "SELECT track_id, speed_kn FROM radar_tracks WHERE seen_at > ?"; // sql
const std::string kTable = "radar_tracks";

void Radar::clean(Db &db, int days) {
    db.exec("DELETE FROM radar_tracks " // sql
            "WHERE seen_at < SYSDATE - 30");
    std::string sql = "SELECT t.track_id FROM " + kTable + " t"; // sql
    sql += " WHERE t.speed_kn > ?";
    sql.append(" ORDER BY t.track_id");
    db.query(sql);
    auto raw = R"sql(
        INSERT INTO radar_tracks (track_id, seen_at)
        VALUES (?, SYSDATE)
    )sql"; // sql-above 2
    std::ostringstream text;
    text << "UPDATE radar_tracks SET days = " << days << " WHERE track_id = 1"; // sql
    printf("Select a track from the screen\n");
    throw std::runtime_error("Update failed: set the radar again");
    std::cout << "delete from the screen " << days;
}

/* SELECT old FROM radar_tracks WHERE x = 1 */
