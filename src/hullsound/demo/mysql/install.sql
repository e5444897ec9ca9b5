-- The whole yard system, in the order in which a fresh server takes it.
source schema.sql
source upgrade_2024.sql
source billing.sql
\. routines.sql
\. views.sql
source season_2025.sql
source grants.sql
