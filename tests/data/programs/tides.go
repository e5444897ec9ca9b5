package tides

import "database/sql"

const insert = `INSERT INTO tide (at, height)
	VALUES ($1, $2)` // sql-above 1

func Read(db *sql.DB, gauge string) (*sql.Rows, error) {
	q := "SELECT at, height FROM tide " + // sql
		"WHERE gauge = $1"
	log("select the gauge from which to read")
	_, _ = db.Exec("DELETE FROM tide WHERE at < now() - interval '1 year'") // sql
	_, _ = db.Exec("TRUNCATE " + gauge) // spliced
	return db.Query(q, gauge)
}
