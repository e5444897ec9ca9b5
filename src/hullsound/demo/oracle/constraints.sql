-- Foreign keys, in a file of their own so that tables can be created in any order.
ALTER TABLE exchange_rates ADD CONSTRAINT exchange_rates_currency_fk
  FOREIGN KEY (currency_code) REFERENCES currencies (currency_code);
ALTER TABLE staff ADD CONSTRAINT staff_manager_fk
  FOREIGN KEY (manager_id) REFERENCES staff (staff_id);
ALTER TABLE vessels ADD CONSTRAINT vessels_type_fk
  FOREIGN KEY (type_code) REFERENCES vessel_types (type_code);
ALTER TABLE vessels ADD CONSTRAINT vessels_flag_fk
  FOREIGN KEY (flag_code) REFERENCES countries (country_code);
ALTER TABLE vessels ADD CONSTRAINT vessels_agent_fk
  FOREIGN KEY (agent_id) REFERENCES agents (agent_id) ON DELETE SET NULL;
ALTER TABLE vessel_names ADD CONSTRAINT vessel_names_vessel_fk
  FOREIGN KEY (vessel_id) REFERENCES vessels (vessel_id) ON DELETE CASCADE;
ALTER TABLE vessel_certificates ADD CONSTRAINT vessel_certificates_vessel_fk
  FOREIGN KEY (vessel_id) REFERENCES vessels (vessel_id) ON DELETE CASCADE;
ALTER TABLE banned_vessels ADD (
  CONSTRAINT banned_vessels_vessel_fk FOREIGN KEY (vessel_id) REFERENCES vessels (vessel_id),
  CONSTRAINT banned_vessels_staff_fk FOREIGN KEY (decided_by) REFERENCES staff (staff_id)
);
ALTER TABLE berths ADD CONSTRAINT berths_parent_fk
  FOREIGN KEY (parent_id) REFERENCES berths (berth_id);
ALTER TABLE berth_restrictions ADD CONSTRAINT berth_restrictions_berth_fk
  FOREIGN KEY (berth_id) REFERENCES berths (berth_id) ON DELETE CASCADE;
ALTER TABLE berth_restrictions ADD CONSTRAINT berth_restrictions_type_fk
  FOREIGN KEY (type_code) REFERENCES vessel_types (type_code);
ALTER TABLE berth_closures ADD CONSTRAINT berth_closures_berth_fk
  FOREIGN KEY (berth_id) REFERENCES berths (berth_id);
ALTER TABLE port_calls ADD CONSTRAINT port_calls_vessel_fk
  FOREIGN KEY (vessel_id) REFERENCES vessels (vessel_id);
ALTER TABLE port_calls ADD CONSTRAINT port_calls_agent_fk
  FOREIGN KEY (agent_id) REFERENCES agents (agent_id);
ALTER TABLE port_calls ADD CONSTRAINT port_calls_berth_fk
  FOREIGN KEY (berth_id) REFERENCES berths (berth_id);
ALTER TABLE berth_movements ADD CONSTRAINT berth_movements_call_fk
  FOREIGN KEY (call_id) REFERENCES port_calls (call_id) ON DELETE CASCADE;
ALTER TABLE berth_movements ADD CONSTRAINT berth_movements_berth_fk
  FOREIGN KEY (berth_id) REFERENCES berths (berth_id);
ALTER TABLE call_documents ADD CONSTRAINT call_documents_call_fk
  FOREIGN KEY (call_id) REFERENCES port_calls (call_id) ON DELETE CASCADE;
ALTER TABLE pilots ADD CONSTRAINT pilots_staff_fk
  FOREIGN KEY (staff_id) REFERENCES staff (staff_id);
ALTER TABLE pilot_orders ADD CONSTRAINT pilot_orders_call_fk
  FOREIGN KEY (call_id) REFERENCES port_calls (call_id);
ALTER TABLE pilot_orders ADD CONSTRAINT pilot_orders_pilot_fk
  FOREIGN KEY (pilot_id) REFERENCES pilots (pilot_id);
ALTER TABLE pilot_rosters ADD CONSTRAINT pilot_rosters_pilot_fk
  FOREIGN KEY (pilot_id) REFERENCES pilots (pilot_id) ON DELETE CASCADE;
ALTER TABLE tariffs ADD CONSTRAINT tariffs_service_fk
  FOREIGN KEY (service_code) REFERENCES services (service_code);
ALTER TABLE discounts ADD CONSTRAINT discounts_agent_fk
  FOREIGN KEY (agent_id) REFERENCES agents (agent_id);
ALTER TABLE invoices ADD CONSTRAINT invoices_agent_fk
  FOREIGN KEY (agent_id) REFERENCES agents (agent_id);
ALTER TABLE invoices ADD CONSTRAINT invoices_call_fk
  FOREIGN KEY (call_id) REFERENCES port_calls (call_id);
ALTER TABLE invoice_lines ADD CONSTRAINT invoice_lines_invoice_fk
  FOREIGN KEY (invoice_id) REFERENCES invoices (invoice_id) ON DELETE CASCADE;
ALTER TABLE invoice_lines ADD CONSTRAINT invoice_lines_service_fk
  FOREIGN KEY (service_code) REFERENCES services (service_code);
ALTER TABLE payments ADD CONSTRAINT payments_invoice_fk
  FOREIGN KEY (invoice_id) REFERENCES invoices (invoice_id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE manifests ADD CONSTRAINT manifests_call_fk
  FOREIGN KEY (call_id) REFERENCES port_calls (call_id);
ALTER TABLE manifest_items ADD CONSTRAINT manifest_items_manifest_fk
  FOREIGN KEY (manifest_id) REFERENCES manifests (manifest_id) ON DELETE CASCADE;
ALTER TABLE manifest_items ADD CONSTRAINT manifest_items_cargo_fk
  FOREIGN KEY (cargo_code) REFERENCES cargo_types (cargo_code);
ALTER TABLE inspections ADD CONSTRAINT inspections_call_fk
  FOREIGN KEY (call_id) REFERENCES port_calls (call_id);
ALTER TABLE deficiencies ADD CONSTRAINT deficiencies_inspection_fk
  FOREIGN KEY (inspection_id) REFERENCES inspections (inspection_id) ON DELETE CASCADE;
ALTER TABLE crew_lists ADD CONSTRAINT crew_lists_call_fk
  FOREIGN KEY (call_id) REFERENCES port_calls (call_id);
ALTER TABLE crew_members ADD CONSTRAINT crew_members_list_fk
  FOREIGN KEY (crew_list_id) REFERENCES crew_lists (crew_list_id) ON DELETE CASCADE;
ALTER TABLE customs_holds ADD CONSTRAINT customs_holds_call_fk
  FOREIGN KEY (call_id) REFERENCES port_calls (call_id) ENABLE NOVALIDATE;
ALTER TABLE customs_messages ADD CONSTRAINT customs_messages_dir_ck
  CHECK (direction IN ('I', 'O'));
