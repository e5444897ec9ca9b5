-- The tides of Kestrel Bay in Teradata SQL: rows that qualify, formats, names of the select list, dates as numbers.
-- row reading: {"reading_id": 1, "gauge": "north", "taken": "2024-01-05", "level": "3.90", "at": "2024-01-05 06:10:00"}
-- row reading: {"reading_id": 2, "gauge": "north", "taken": "2024-02-05", "level": "2.10", "at": "2024-02-05 07:20:30"}
-- row reading: {"reading_id": 3, "gauge": "south", "taken": "2024-02-06", "level": None, "at": None}
CREATE MULTISET TABLE bay.reading (reading_id INTEGER NOT NULL, gauge VARCHAR(10), taken DATE FORMAT 'YYYY-MM-DD', level DECIMAL(6,2), at TIMESTAMP(0)) UNIQUE PRIMARY INDEX (reading_id);
REPLACE VIEW bay.v_last AS SEL gauge, reading_id, level (INTEGER) AS whole FROM bay.reading QUALIFY ROW_NUMBER() OVER (PARTITION BY gauge ORDER BY taken DESC) = 1;
REPLACE VIEW bay.v_named AS SELECT r.*, RANK() OVER (ORDER BY taken) AS place FROM bay.reading r QUALIFY place <= 2;
REPLACE VIEW bay.v_twice AS SELECT reading_id, level * 2 AS twice FROM bay.reading WHERE twice > 5 AND gauge LIKE ANY ('n%', 's%');
REPLACE VIEW bay.v_shown AS SELECT reading_id, taken (FORMAT 'YYYYMMDD') (CHAR(8)) AS a, CAST((taken (FORMAT 'DD/MM/YYYY')) AS VARCHAR(10)) AS b, CAST(taken AS FORMAT 'YYYY-MM') (CHAR(7)) AS c, at (FORMAT 'HH:MI') (CHAR(5)) AS d FROM bay.reading;
REPLACE VIEW bay.v_odd AS SELECT reading_id FROM bay.reading WHERE reading_id MOD 2 EQ 1 AND taken GE 1240101;
REPLACE VIEW bay.v_power AS SELECT reading_id ** 2 AS p, ZEROIFNULL(level) AS z, OREPLACE(gauge, 'th') AS g FROM bay.reading;
-- gives last_of('north'): [2]
REPLACE PROCEDURE bay.last_of (IN p_gauge VARCHAR(10), OUT p_id INTEGER) BEGIN SELECT reading_id INTO :p_id FROM bay.v_last WHERE gauge = :p_gauge; END;
-- gives whole_of(2): [2]
REPLACE PROCEDURE bay.whole_of (IN p_id INTEGER, OUT p_n INTEGER) BEGIN SELECT whole INTO :p_n FROM bay.v_last WHERE reading_id = :p_id; END;
-- gives named(): [2]
REPLACE PROCEDURE bay.named (OUT p_n INTEGER) BEGIN SELECT COUNT(*) INTO :p_n FROM bay.v_named; END;
-- gives twice_of(): [1]
REPLACE PROCEDURE bay.twice_of (OUT p_n INTEGER) BEGIN SELECT COUNT(*) INTO :p_n FROM bay.v_twice; END;
-- gives shown(2): ['20240205', '05/02/2024', '2024-02', '07:20']
REPLACE PROCEDURE bay.shown (IN p_id INTEGER, OUT a VARCHAR(10), OUT b VARCHAR(10), OUT c VARCHAR(10), OUT d VARCHAR(10)) BEGIN SELECT s.a, s.b, s.c, s.d INTO :a, :b, :c, :d FROM bay.v_shown s WHERE s.reading_id = :p_id; END;
-- gives odd(): [2]
REPLACE PROCEDURE bay.odd (OUT p_n INTEGER) BEGIN SELECT COUNT(*) INTO :p_n FROM bay.v_odd; END;
-- gives parts_of(9): ['9.00', '0.00', 'sou']
REPLACE PROCEDURE bay.parts_of (IN p_p INTEGER, OUT p_power DECIMAL(6,2), OUT p_z DECIMAL(6,2), OUT p_g VARCHAR(10)) BEGIN SELECT v.p, v.z, v.g INTO :p_power, :p_z, :p_g FROM bay.v_power v WHERE v.p = :p_p; END;
-- gives raise_levels('1.00'): [2]
-- leaves raise_levels('1.00'); SELECT level FROM bay.reading ORDER BY reading_id: [('4.90',), ('3.10',), (None,)]
REPLACE PROCEDURE bay.raise_levels (IN p_by DECIMAL(6,2), OUT p_n INTEGER) BEGIN UPDATE bay.reading SET level = level + :p_by WHERE level IS NOT NULL; SET p_n = ACTIVITY_COUNT; END;
-- leaves copy_levels(); SELECT level FROM bay.reading ORDER BY reading_id: [('2.10',), ('2.10',), (None,)]
REPLACE PROCEDURE bay.copy_levels () BEGIN UPDATE r FROM bay.reading r, bay.reading o SET level = o.level WHERE r.reading_id = 1 AND o.reading_id = 2; END;
