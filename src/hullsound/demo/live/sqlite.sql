-- Rows with what years of use leave behind, for the pilot's tablet on a running database. One statement in a line.
INSERT INTO pilot_job (imo, berth, eta, state, version) VALUES (9999999, 'B1 ', '2025-13-01', 'asked', 'two')
INSERT INTO pilot_job (imo, berth, eta, state, version) VALUES (9000017, 'b1', '', 'asked', 1)
INSERT INTO tide VALUES ('Kestrel Bay', '2025-02-30', 'high')
INSERT INTO tide VALUES ('KESTREL BAY', '2025-02-30', 1.5)
INSERT INTO note (title, body, deleted) VALUES ('quay ' || char(0), '', 2)
INSERT INTO outbox (kind, body) VALUES ('job ', '')
