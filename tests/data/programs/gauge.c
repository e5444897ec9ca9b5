#include <stdio.h>

static const char *READ = "SELECT value FROM gauges WHERE gauge_id = :1"; /* sql */
#define COUNT_SQL "SELECT COUNT(*) FROM gauges" /* sql */

int read_gauge(char *name)
{
    char sql[200];
    sprintf(sql, "SELECT value FROM gauges WHERE name = '%s'", name); /* sql */
    snprintf(sql, sizeof sql, "UPDATE gauges SET value = %d " /* sql */
                              "WHERE gauge_id = %d", 3, 4);
    puts("select from the gauges");
    fprintf(stderr, "Delete of %s failed\n", name);
    return 0;
}
