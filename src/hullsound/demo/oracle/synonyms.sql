-- Other names under which older programs look for things.
CREATE OR REPLACE SYNONYM ships FOR vessels;
CREATE OR REPLACE SYNONYM visits FOR harbour.port_calls;
CREATE OR REPLACE PUBLIC SYNONYM kb_agents FOR harbour.agents;
CREATE OR REPLACE SYNONYM tariff FOR harbour.pkg_tariff;
CREATE OR REPLACE SYNONYM customs_ships FOR ships@customs_link;
