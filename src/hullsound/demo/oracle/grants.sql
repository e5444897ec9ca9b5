-- Rights. Roles are created by the DBA team.
CREATE ROLE harbour_reader;
CREATE ROLE harbour_clerk;
GRANT SELECT ON v_open_calls TO harbour_reader;
GRANT SELECT ON v_vessels_in_port TO harbour_reader;
GRANT SELECT ON v_expected_today TO harbour_reader;
GRANT SELECT ON vessels TO harbour_reader;
GRANT SELECT, INSERT, UPDATE ON vessels TO harbour_clerk;
GRANT SELECT, INSERT, UPDATE ON port_calls TO harbour_clerk;
GRANT SELECT, INSERT, UPDATE, DELETE ON pilot_orders TO harbour_clerk;
GRANT SELECT ON invoices TO harbour_clerk;
GRANT EXECUTE ON confirm_call TO harbour_clerk;
GRANT EXECUTE ON berth_is_free TO harbour_clerk;
GRANT READ, WRITE ON DIRECTORY edi_out TO harbour_clerk;
GRANT CREATE SESSION, CREATE VIEW TO harbour_clerk;
