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

UPDATE settings
SET setting_value = '30'
WHERE setting_name = 'REMINDER_FEE';

MERGE INTO settings s
USING (SELECT 'CUSTOMS_URL' AS setting_name, 'http://customs.invalid/kb' AS setting_value FROM dual) n
   ON (s.setting_name = n.setting_name)
 WHEN MATCHED THEN UPDATE SET s.setting_value = n.setting_value
 WHEN NOT MATCHED THEN INSERT (setting_name, setting_value) VALUES (n.setting_name, n.setting_value);

COMMIT;
