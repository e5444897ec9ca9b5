-- Sessions of the payroll desk start here.
CONNECT TO PAYROLL;
UPDATE COMMAND OPTIONS USING C OFF;
ECHO Run tables, reference, routines and views in this order;
TERMINATE;
