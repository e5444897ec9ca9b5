/* Everything, in order. */
.RUN FILE = tables.sql
.RUN FILE = macros.sql
