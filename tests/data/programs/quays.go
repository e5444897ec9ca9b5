package quays

import (
	"database/sql"
	"fmt"
	"strings"
)

const (
	table   = "quays"
	listAll = `SELECT quay_id, name FROM quays` // sql
	byID    = "SELECT name FROM quays WHERE quay_id = :1" // sql
)

var wait = map[string]string{
	"north": "SELECT wait_min FROM waits WHERE quay = 'N'", // sql
	"help":  "select a quay from north or south",
}

func Load(db *sql.DB, id int) error {
	row := db.QueryRow("SELECT name, depth_m FROM quays "+ // sql
		"WHERE quay_id = ?", id)
	_, err := db.Exec(fmt.Sprintf("DELETE FROM %s WHERE quay_id = ?", table), id) // sql
	if err != nil {
		return fmt.Errorf("delete from %s: %w", table, err)
	}
	q := `
		UPDATE quays
		SET name = ?
		WHERE quay_id = ?
	` // sql-above 3
	var b strings.Builder
	b.WriteString("SELECT q.name FROM quays q") // sql
	b.WriteString(" ORDER BY q.name")
	text := "INSERT INTO quay_log (said)" // sql
	text += " VALUES (?)"
	db.Exec(q)
	fmt.Println("update quays: set the depth first")
	return nil
}
