SET DEFINE OFF
PROMPT Loading reference data

INSERT INTO countries (country_code, name, is_member) VALUES ('KB', 'Kestrel Bay & Isles', 'Y');
INSERT INTO countries (country_code, name, is_member) VALUES ('NV', 'Norvale', 'Y');
INSERT INTO countries (country_code, name, is_member) VALUES ('OS', 'Ostermark', 'N');
INSERT INTO countries (country_code, name, is_member) VALUES ('TL', 'Tellan Coast', 'N');

INSERT INTO currencies (currency_code, name, decimals) VALUES ('KBD', 'Kestrel dollar', 2);
INSERT INTO currencies (currency_code, name, decimals) VALUES ('NVK', 'Norvale crown', 2);

INSERT INTO vessel_types (type_code, name, tariff_class, needs_pilot) VALUES ('BULK', 'Bulk carrier', 'A', 'Y');
INSERT INTO vessel_types (type_code, name, tariff_class, needs_pilot) VALUES ('TANK', 'Tanker', 'X', 'Y');
INSERT INTO vessel_types (type_code, name, tariff_class, needs_pilot) VALUES ('FERRY', 'Ferry', 'B', 'N');
INSERT INTO vessel_types (type_code, name, tariff_class, needs_pilot) VALUES ('TUG', 'Harbour tug', 'C', 'N');

INSERT INTO services (service_code, name, unit_code, vat_rate, account_no) VALUES ('DUES', 'Port dues', 'GT', 0, '4000');
INSERT INTO services (service_code, name, unit_code, vat_rate, account_no) VALUES ('PILOT', 'Pilotage', 'MOVE', 20, '4100');
INSERT INTO services (service_code, name, unit_code, vat_rate, account_no) VALUES ('MOOR', 'Mooring', 'LINE', 20, '4200');
INSERT INTO services (service_code, name, unit_code, vat_rate, account_no) VALUES ('WASTE', 'Reception of waste', 'M3', 20, '4300');

INSERT INTO settings (setting_name, setting_value) VALUES ('HARBOUR_NAME', 'Kestrel Bay');
INSERT INTO settings (setting_name, setting_value) VALUES ('INVOICE_PREFIX', 'KB');
INSERT INTO settings (setting_name, setting_value) VALUES ('REMINDER_FEE', '25');

-- The harbour as it was surveyed last year.
INSERT INTO berths (berth_id, parent_id, code, name, kind, sort_order) VALUES (1, NULL, 'NB', 'North Basin', 'BASIN', 10);
INSERT INTO berths (berth_id, parent_id, code, name, kind, sort_order) VALUES (2, NULL, 'SB', 'South Basin', 'BASIN', 20);
INSERT INTO berths (berth_id, parent_id, code, name, kind, length_m, depth_m, sort_order)
VALUES (3, 1, 'NB3', 'Grain Quay', 'QUAY', 220, 11.5, 30);
INSERT INTO berths (berth_id, parent_id, code, name, kind, length_m, depth_m, sort_order)
VALUES (4, 1, 'NB4', 'Timber Quay', 'QUAY', 180, 9.2, 40);
INSERT INTO berths (berth_id, parent_id, code, name, kind, length_m, depth_m, sort_order)
VALUES (5, 1, 'NB5', 'Ferry Quay', 'QUAY', 150, 7.8, 50);
INSERT INTO berths (berth_id, parent_id, code, name, kind, length_m, depth_m, sort_order)
VALUES (6, 2, 'SB6', 'Oil Jetty', 'QUAY', 260, 14.0, 60);
INSERT INTO berths (berth_id, parent_id, code, name, kind, length_m, depth_m, sort_order)
VALUES (7, 2, 'SB7', 'Ore Quay', 'QUAY', 300, 15.5, 70);
INSERT INTO berths (berth_id, parent_id, code, name, kind, length_m, depth_m, sort_order)
VALUES (8, 2, 'SB8', 'Fish Quay', 'QUAY', 120, 6.4, 80);
INSERT INTO berths (berth_id, parent_id, code, name, length_m, depth_m, max_loa_m, has_crane, sort_order)
VALUES (9, 3, 'NB3-1', 'Grain Quay 1', 73, 11.5, 65, 'Y', 90);
INSERT INTO berths (berth_id, parent_id, code, name, length_m, depth_m, max_loa_m, has_crane, sort_order)
VALUES (10, 3, 'NB3-2', 'Grain Quay 2', 73, 11.5, 65, 'N', 100);
INSERT INTO berths (berth_id, parent_id, code, name, length_m, depth_m, max_loa_m, has_crane, sort_order)
VALUES (11, 3, 'NB3-3', 'Grain Quay 3', 73, 11.5, 65, 'Y', 110);
INSERT INTO berths (berth_id, parent_id, code, name, length_m, depth_m, max_loa_m, has_crane, sort_order)
VALUES (12, 4, 'NB4-1', 'Timber Quay 1', 60, 9.2, 52, 'Y', 120);
INSERT INTO berths (berth_id, parent_id, code, name, length_m, depth_m, max_loa_m, has_crane, sort_order)
VALUES (13, 4, 'NB4-2', 'Timber Quay 2', 60, 9.2, 52, 'N', 130);
INSERT INTO berths (berth_id, parent_id, code, name, length_m, depth_m, max_loa_m, has_crane, sort_order)
VALUES (14, 4, 'NB4-3', 'Timber Quay 3', 60, 9.2, 52, 'Y', 140);
INSERT INTO berths (berth_id, parent_id, code, name, length_m, depth_m, max_loa_m, has_crane, sort_order)
VALUES (15, 5, 'NB5-1', 'Ferry Quay 1', 50, 7.8, 42, 'Y', 150);
INSERT INTO berths (berth_id, parent_id, code, name, length_m, depth_m, max_loa_m, has_crane, sort_order)
VALUES (16, 5, 'NB5-2', 'Ferry Quay 2', 50, 7.8, 42, 'N', 160);
INSERT INTO berths (berth_id, parent_id, code, name, length_m, depth_m, max_loa_m, has_crane, sort_order)
VALUES (17, 5, 'NB5-3', 'Ferry Quay 3', 50, 7.8, 42, 'Y', 170);
INSERT INTO berths (berth_id, parent_id, code, name, length_m, depth_m, max_loa_m, has_crane, sort_order)
VALUES (18, 6, 'SB6-1', 'Oil Jetty 1', 86, 14.0, 78, 'Y', 180);
INSERT INTO berths (berth_id, parent_id, code, name, length_m, depth_m, max_loa_m, has_crane, sort_order)
VALUES (19, 6, 'SB6-2', 'Oil Jetty 2', 86, 14.0, 78, 'N', 190);
INSERT INTO berths (berth_id, parent_id, code, name, length_m, depth_m, max_loa_m, has_crane, sort_order)
VALUES (20, 6, 'SB6-3', 'Oil Jetty 3', 86, 14.0, 78, 'Y', 200);
INSERT INTO berths (berth_id, parent_id, code, name, length_m, depth_m, max_loa_m, has_crane, sort_order)
VALUES (21, 7, 'SB7-1', 'Ore Quay 1', 100, 15.5, 92, 'Y', 210);
INSERT INTO berths (berth_id, parent_id, code, name, length_m, depth_m, max_loa_m, has_crane, sort_order)
VALUES (22, 7, 'SB7-2', 'Ore Quay 2', 100, 15.5, 92, 'N', 220);
INSERT INTO berths (berth_id, parent_id, code, name, length_m, depth_m, max_loa_m, has_crane, sort_order)
VALUES (23, 7, 'SB7-3', 'Ore Quay 3', 100, 15.5, 92, 'Y', 230);
INSERT INTO berths (berth_id, parent_id, code, name, length_m, depth_m, max_loa_m, has_crane, sort_order)
VALUES (24, 8, 'SB8-1', 'Fish Quay 1', 40, 6.4, 32, 'Y', 240);
INSERT INTO berths (berth_id, parent_id, code, name, length_m, depth_m, max_loa_m, has_crane, sort_order)
VALUES (25, 8, 'SB8-2', 'Fish Quay 2', 40, 6.4, 32, 'N', 250);
INSERT INTO berths (berth_id, parent_id, code, name, length_m, depth_m, max_loa_m, has_crane, sort_order)
VALUES (26, 8, 'SB8-3', 'Fish Quay 3', 40, 6.4, 32, 'Y', 260);

INSERT INTO cargo_types (cargo_code, name, is_dangerous, hazard_class, dues_per_ton)
VALUES ('GRAIN', 'Grain in bulk', 'N', NULL, 0.42);
INSERT INTO cargo_types (cargo_code, name, is_dangerous, hazard_class, dues_per_ton)
VALUES ('TIMBER', 'Sawn timber', 'N', NULL, 0.55);
INSERT INTO cargo_types (cargo_code, name, is_dangerous, hazard_class, dues_per_ton)
VALUES ('ORE', 'Iron ore', 'N', NULL, 0.31);
INSERT INTO cargo_types (cargo_code, name, is_dangerous, hazard_class, dues_per_ton)
VALUES ('CRUDE', 'Crude oil', 'Y', '3', 0.88);
INSERT INTO cargo_types (cargo_code, name, is_dangerous, hazard_class, dues_per_ton)
VALUES ('LNG', 'Liquefied gas', 'Y', '2.1', 1.2);
INSERT INTO cargo_types (cargo_code, name, is_dangerous, hazard_class, dues_per_ton)
VALUES ('FERT', 'Fertiliser', 'Y', '5.1', 0.6);
INSERT INTO cargo_types (cargo_code, name, is_dangerous, hazard_class, dues_per_ton)
VALUES ('CONT', 'Containers, mixed', 'N', NULL, 2.4);
INSERT INTO cargo_types (cargo_code, name, is_dangerous, hazard_class, dues_per_ton)
VALUES ('CARS', 'Vehicles', 'N', NULL, 3.1);
INSERT INTO cargo_types (cargo_code, name, is_dangerous, hazard_class, dues_per_ton)
VALUES ('FISH', 'Fish, chilled', 'N', NULL, 1.9);
INSERT INTO cargo_types (cargo_code, name, is_dangerous, hazard_class, dues_per_ton)
VALUES ('EXPL', 'Explosives for quarries', 'Y', '1.1', 9.5);

INSERT INTO tariffs (tariff_id, service_code, tariff_class, valid_from, unit_price, minimum_amount)
VALUES (1, 'DUES', 'A', DATE '2024-01-01', 0.18, 50);
INSERT INTO tariffs (tariff_id, service_code, tariff_class, valid_from, unit_price, minimum_amount)
VALUES (2, 'DUES', 'B', DATE '2024-01-01', 0.207, 75);
INSERT INTO tariffs (tariff_id, service_code, tariff_class, valid_from, unit_price, minimum_amount)
VALUES (3, 'DUES', 'C', DATE '2024-01-01', 0.234, 100);
INSERT INTO tariffs (tariff_id, service_code, tariff_class, valid_from, unit_price, minimum_amount)
VALUES (4, 'DUES', 'X', DATE '2024-01-01', 0.261, 125);
INSERT INTO tariffs (tariff_id, service_code, tariff_class, valid_from, unit_price, minimum_amount)
VALUES (5, 'PILOT', 'A', DATE '2024-01-01', 450.0, 50);
INSERT INTO tariffs (tariff_id, service_code, tariff_class, valid_from, unit_price, minimum_amount)
VALUES (6, 'PILOT', 'B', DATE '2024-01-01', 517.5, 75);
INSERT INTO tariffs (tariff_id, service_code, tariff_class, valid_from, unit_price, minimum_amount)
VALUES (7, 'PILOT', 'C', DATE '2024-01-01', 585.0, 100);
INSERT INTO tariffs (tariff_id, service_code, tariff_class, valid_from, unit_price, minimum_amount)
VALUES (8, 'PILOT', 'X', DATE '2024-01-01', 652.5, 125);
INSERT INTO tariffs (tariff_id, service_code, tariff_class, valid_from, unit_price, minimum_amount)
VALUES (9, 'MOOR', 'A', DATE '2024-01-01', 38.5, 50);
INSERT INTO tariffs (tariff_id, service_code, tariff_class, valid_from, unit_price, minimum_amount)
VALUES (10, 'MOOR', 'B', DATE '2024-01-01', 44.275, 75);
INSERT INTO tariffs (tariff_id, service_code, tariff_class, valid_from, unit_price, minimum_amount)
VALUES (11, 'MOOR', 'C', DATE '2024-01-01', 50.05, 100);
INSERT INTO tariffs (tariff_id, service_code, tariff_class, valid_from, unit_price, minimum_amount)
VALUES (12, 'MOOR', 'X', DATE '2024-01-01', 55.825, 125);
INSERT INTO tariffs (tariff_id, service_code, tariff_class, valid_from, unit_price, minimum_amount)
VALUES (13, 'WASTE', 'A', DATE '2024-01-01', 22.0, 50);
INSERT INTO tariffs (tariff_id, service_code, tariff_class, valid_from, unit_price, minimum_amount)
VALUES (14, 'WASTE', 'B', DATE '2024-01-01', 25.3, 75);
INSERT INTO tariffs (tariff_id, service_code, tariff_class, valid_from, unit_price, minimum_amount)
VALUES (15, 'WASTE', 'C', DATE '2024-01-01', 28.6, 100);
INSERT INTO tariffs (tariff_id, service_code, tariff_class, valid_from, unit_price, minimum_amount)
VALUES (16, 'WASTE', 'X', DATE '2024-01-01', 31.9, 125);

INSERT INTO staff (staff_id, login, full_name, email, role_code, manager_id, hired_on)
VALUES (1, 'MHOLT', 'Maren Holt', 'maren.holt@kestrel.invalid', 'MASTER', NULL, TO_DATE('2002-02-01', 'YYYY-MM-DD'));
INSERT INTO staff (staff_id, login, full_name, email, role_code, manager_id, hired_on)
VALUES (2, 'IVANE', 'Idris Vane', 'idris.vane@kestrel.invalid', 'PILOT', 1, TO_DATE('2004-03-01', 'YYYY-MM-DD'));
INSERT INTO staff (staff_id, login, full_name, email, role_code, manager_id, hired_on)
VALUES (3, 'TLARK', 'Tove Lark', 'tove.lark@kestrel.invalid', 'PILOT', 1, TO_DATE('2006-04-01', 'YYYY-MM-DD'));
INSERT INTO staff (staff_id, login, full_name, email, role_code, manager_id, hired_on)
VALUES (4, 'JREEK', 'Jonas Reek', 'jonas.reek@kestrel.invalid', 'PILOT', 1, TO_DATE('2008-05-01', 'YYYY-MM-DD'));
INSERT INTO staff (staff_id, login, full_name, email, role_code, manager_id, hired_on)
VALUES (5, 'SBRAE', 'Sunniva Brae', 'sunniva.brae@kestrel.invalid', 'CLERK', 1, TO_DATE('2010-06-01', 'YYYY-MM-DD'));
INSERT INTO staff (staff_id, login, full_name, email, role_code, manager_id, hired_on)
VALUES (6, 'PALDOUS', 'Piet Aldous', 'piet.aldous@kestrel.invalid', 'CLERK', 1, TO_DATE('2012-07-01', 'YYYY-MM-DD'));
INSERT INTO staff (staff_id, login, full_name, email, role_code, manager_id, hired_on)
VALUES (7, 'GSAND', 'Greta Sand', 'greta.sand@kestrel.invalid', 'CLERK', 1, TO_DATE('2014-08-01', 'YYYY-MM-DD'));
INSERT INTO staff (staff_id, login, full_name, email, role_code, manager_id, hired_on)
VALUES (8, 'OTHRIFT', 'Owen Thrift', 'owen.thrift@kestrel.invalid', 'CLERK', 1, TO_DATE('2016-09-01', 'YYYY-MM-DD'));

UPDATE settings
SET setting_value = '30'
WHERE setting_name = 'REMINDER_FEE';

MERGE INTO settings s
USING (SELECT 'CUSTOMS_URL' AS setting_name, 'http://customs.invalid/kb' AS setting_value FROM dual) n
   ON (s.setting_name = n.setting_name)
 WHEN MATCHED THEN UPDATE SET s.setting_value = n.setting_value
 WHEN NOT MATCHED THEN INSERT (setting_name, setting_value) VALUES (n.setting_name, n.setting_value);

COMMIT;
