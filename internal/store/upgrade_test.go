package store

import (
	"cmp"
	"context"
	"database/sql"
	"fmt"
	"strings"
	"testing"

	"zestysketch/internal/mariadb/mariadbtest"
)

// Every database that was ever released, with a row in every table, comes to the present one, also where it was
// cut off in the middle of its next step: no row is lost, and what a column held it holds.
func TestEveryReleasedDatabase(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	all, err := steps()
	if err != nil {
		t.Fatal(err)
	}
	for i := 1; i < len(all); i++ {
		name := all[i-1].ID
		dsn := mariadbtest.DSN(t)
		s, err := openTo(ctx, dsn, all[:i])
		if err != nil {
			t.Fatal(err)
		}
		s.Close()
		db := raw(t, dsn)
		before := fill(t, db)
		text, err := migrations.ReadFile("migrations/" + all[i].ID + ".sql")
		if err != nil {
			t.Fatal(err)
		}
		next := statements(string(text))
		for _, one := range next[:len(next)/2] { // the start that was cut off
			if _, err := db.Exec(one); err != nil {
				t.Fatalf("%s: %v", all[i].ID, err)
			}
		}
		up, err := Open(ctx, dsn)
		if err != nil {
			t.Errorf("a database of %s: %v", name, err)
			continue
		}
		up.Close()
		after := rowsOf(t, db)
		for table, was := range before {
			is, there := after[cmp.Or(renamed[table], table)]
			if !there {
				is, there = after[table]
			}
			if !there && table != ended {
				t.Errorf("a database of %s: %s is gone", name, table)
			}
			for column, value := range was {
				if got, kept := is[column]; kept && got != value {
					t.Errorf("a database of %s: %s.%s was %q, and is %q", name, table, column, value, got)
				}
			}
		}
	}
}

// renamed are tables that have another name now; ended is the one that a step took away, once it had put teachers'
// cupboards together into their schools' (0025, 0026).
var renamed = map[string]string{"print_jobs": "jobs", "print_files": "job_files"}

const ended = "cupboard"

// rowsOf returns the one row of each table that has one, column by column, as words.
func rowsOf(t *testing.T, db *sql.DB) map[string]map[string]string {
	t.Helper()
	out := map[string]map[string]string{}
	for _, table := range tableNames(t, db) {
		rows, err := db.Query("SELECT * FROM `" + table + "`")
		if err != nil {
			t.Fatal(err)
		}
		columns, _ := rows.Columns()
		for rows.Next() {
			values, into := make([]sql.NullString, len(columns)), make([]any, len(columns))
			for i := range values {
				into[i] = &values[i]
			}
			if err := rows.Scan(into...); err != nil {
				t.Fatal(err)
			}
			out[table] = map[string]string{}
			for i, c := range columns {
				out[table][c] = values[i].String
			}
		}
		rows.Close()
	}
	return out
}

func tableNames(t *testing.T, db *sql.DB) (names []string) {
	t.Helper()
	rows, err := db.Query("SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name <> 'migrations'")
	if err != nil {
		t.Fatal(err)
	}
	defer rows.Close()
	for rows.Next() {
		var n string
		if err := rows.Scan(&n); err != nil {
			t.Fatal(err)
		}
		names = append(names, n)
	}
	return names
}

// fill puts one row into every table, by what its columns may hold, and returns them. Numbers are 1, so that rows name
// each other.
func fill(t *testing.T, db *sql.DB) map[string]map[string]string {
	t.Helper()
	conn, err := db.Conn(context.Background())
	if err != nil {
		t.Fatal(err)
	}
	defer conn.Close()
	exec := func(query string) {
		t.Helper()
		if _, err := conn.ExecContext(context.Background(), query); err != nil {
			t.Fatalf("%s: %v", query, err)
		}
	}
	exec("SET foreign_key_checks = 0")
	exec("SET sql_mode = ''")
	for _, table := range tableNames(t, db) {
		rows, err := db.Query(`SELECT c.column_name, c.data_type, c.column_type, EXISTS (SELECT 1 FROM information_schema.check_constraints k
			WHERE k.constraint_schema = DATABASE() AND k.table_name = c.table_name AND k.check_clause LIKE CONCAT('%json_valid(%', c.column_name, '%'))
			FROM information_schema.columns c WHERE c.table_schema = DATABASE() AND c.table_name = ? AND c.extra NOT LIKE '%GENERATED%'`, table)
		if err != nil {
			t.Fatal(err)
		}
		var names, values []string
		for rows.Next() {
			var name, kind, full string
			var json bool
			if err := rows.Scan(&name, &kind, &full, &json); err != nil {
				t.Fatal(err)
			}
			names, values = append(names, "`"+name+"`"), append(values, one(kind, full, json))
		}
		rows.Close()
		exec(fmt.Sprintf("INSERT INTO `%s` (%s) VALUES (%s)", table, strings.Join(names, ", "), strings.Join(values, ", ")))
	}
	return rowsOf(t, db)
}

// one is a value of a column's type.
func one(kind, full string, json bool) string {
	switch {
	case json:
		return "'{}'"
	case kind == "enum":
		value, _, _ := strings.Cut(strings.TrimPrefix(full, "enum("), ",")
		return strings.TrimSuffix(value, ")")
	case strings.Contains(kind, "int"), kind == "double", kind == "decimal", kind == "float":
		return "1"
	case kind == "date":
		return "'2026-11-01'"
	case strings.Contains(kind, "time"):
		return "'2026-11-01 08:30:00'"
	}
	return "'1'"
}
