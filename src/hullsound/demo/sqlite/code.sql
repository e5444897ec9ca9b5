-- Triggers, views and queries of the pilot's tablet.
PRAGMA foreign_keys = ON;
PRAGMA journal_mode = WAL;
PRAGMA user_version = 14;
ATTACH DATABASE 'staging.db' AS staging;
CREATE TABLE IF NOT EXISTS staging.vessel (imo INTEGER PRIMARY KEY, name TEXT);
BEGIN IMMEDIATE TRANSACTION;

CREATE TRIGGER IF NOT EXISTS job_touch AFTER UPDATE OF state, berth ON pilot_job
FOR EACH ROW WHEN NEW.state <> OLD.state OR NEW.berth IS NOT OLD.berth
BEGIN
  UPDATE pilot_job SET changed_at = strftime('%Y-%m-%dT%H:%M:%fZ', 'now'), version = OLD.version + 1 WHERE job_id = NEW.job_id;
  INSERT INTO outbox (kind, body) VALUES ('job', json_object('id', NEW.job_id, 'state', NEW.state, 'at', datetime('now')));
END;

CREATE TRIGGER sounding_check BEFORE INSERT ON sounding
BEGIN
  SELECT CASE
    WHEN NEW.depth_m < 0 THEN RAISE(ABORT, 'depth below zero')
    WHEN NOT EXISTS (SELECT 1 FROM chart WHERE chart_no = NEW.chart_no) THEN RAISE(FAIL, 'unknown chart')
  END;
  DELETE FROM sounding WHERE chart_no = NEW.chart_no AND taken_at < datetime('now', '-2 years');
END;

CREATE VIEW v_note AS SELECT rowid, title, substr(body, 1, 80) || CASE WHEN length(body) > 80 THEN '…' ELSE '' END AS short FROM note WHERE deleted = 0;

CREATE TRIGGER note_delete INSTEAD OF DELETE ON v_note BEGIN
  UPDATE note SET deleted = 1 WHERE rowid = OLD.rowid;
END;

CREATE TEMP TRIGGER IF NOT EXISTS log_insert AFTER INSERT ON note
BEGIN
  INSERT INTO note_fts (rowid, title, body) VALUES (new.rowid, new.title, new.body);
END;

CREATE VIEW IF NOT EXISTS v_today (job_id, vessel, eta, left_minutes) AS
  SELECT j.job_id, v.name, time(j.eta, 'localtime'), CAST((julianday(j.eta) - julianday('now')) * 1440 AS INTEGER)
  FROM pilot_job AS j JOIN vessel v USING (imo) WHERE date(j.eta) = date('now') AND j.state NOTNULL AND v.name NOT LIKE '%test%' ESCAPE '\' ORDER BY j.eta COLLATE NOCASE;
CREATE VIEW v_depth AS
  WITH RECURSIVE hour(h) AS (VALUES (0) UNION ALL SELECT h + 1 FROM hour WHERE h < 23)
  SELECT h, t.port, min(t.height_m) OVER (PARTITION BY t.port ORDER BY h ROWS BETWEEN 2 PRECEDING AND 2 FOLLOWING EXCLUDE CURRENT ROW) AS low,
         row_number() OVER w AS n, total(s.depth_m) FILTER (WHERE s.quality > 2) AS good
  FROM hour LEFT JOIN tide t ON cast(strftime('%H', t.at) AS int) = h LEFT JOIN sounding s ON s.taken_at GLOB t.port || '*'
  GROUP BY h, t.port HAVING count(*) > 0 WINDOW w AS (ORDER BY h);

INSERT INTO setting (name, value) VALUES ('units', 'metric'), ('night', 1) ON CONFLICT (name) DO UPDATE SET value = excluded.value WHERE value IS NOT excluded.value;
INSERT OR REPLACE INTO setting VALUES ('theme', x'00ff');
INSERT OR IGNORE INTO vessel (imo, name) SELECT imo, name FROM staging.vessel WHERE imo NOT IN (SELECT imo FROM vessel) RETURNING imo, name AS added;
REPLACE INTO chart DEFAULT VALUES;
UPDATE OR ROLLBACK pilot_job AS j SET (berth, state) = (SELECT berth, 'moved' FROM berth_plan p WHERE p.imo = j.imo), version = version + 1 FROM vessel v WHERE v.imo = j.imo AND v.loa > 100.5e0;
DELETE FROM outbox INDEXED BY ix_outbox_sent WHERE sent_at IS NOT NULL AND sent_at < :cutoff ORDER BY id LIMIT 100 OFFSET 0;
SELECT n.title, snippet(note_fts, 1, '<b>', '</b>', '…', 10) FROM note_fts JOIN note n ON n.rowid = note_fts.rowid WHERE note_fts MATCH 'wind AND (gale OR storm)' ORDER BY rank LIMIT 10, 5;
SELECT j.value ->> '$.name', j.key, json_extract(body, '$.list[0]') FROM outbox, json_each(outbox.body, '$.people') AS j WHERE kind = ?1 AND body -> 'x' IS NOT NULL;
SELECT * FROM vessel NOT INDEXED LEFT OUTER JOIN pilot_job ON vessel.imo = pilot_job.imo WHERE [flag] = "flag" AND `name` == 'Kora' AND (loa, beam) > (100, 20) AND loa BETWEEN @low AND $high AND loa & 3 | 4 << 1 <> ~5;
SELECT EXISTS (SELECT 1 FROM tide), iif(1, 'a', 'b'), ifnull(NULL, 0), NULL ISNULL, 1 NOT NULL, 5 % 3, 'a' || 'b', 0x1F, .5, coalesce(?, ?2) EXCEPT SELECT 1, 'b', 3, 4, 5, 6, 'g', 8, 9, 'j' ORDER BY 1 DESC NULLS LAST;
VALUES (1, 'one'), (2, 'two');
EXPLAIN QUERY PLAN SELECT * FROM vessel WHERE name = 'Kora';
ANALYZE vessel;
SAVEPOINT before_sync;
ROLLBACK TO SAVEPOINT before_sync;
RELEASE before_sync;
COMMIT;
DETACH staging;
REINDEX ix_job_eta;
VACUUM INTO 'copy.db';
