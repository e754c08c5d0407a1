// Command years makes the database of a school after five years, in a temporary
// folder, and measures how it lives there: pages, backup, restore, forgetting.
//
//	go run ./scripts/years [-photos 20000] [-ticks 110] [-keep DIR]
package main

import (
	"bytes"
	"context"
	"database/sql"
	"flag"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"log"
	"math/rand/v2"
	"os"
	"time"

	_ "github.com/go-sql-driver/mysql"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/mariadb"
	"zestysketch/internal/store"
)

// The school: so many teachers, each with a class a year for five years, and what
// each class draws.
const (
	teachers = 12
	years    = 5
	students = 30
	projects = 10 // of a class
	classes  = teachers * years
	password = "a long password"
)

// size is how much of what grows.
type size struct {
	photos, ticks int // in all; of a student in a project
	only, profile string
}

func main() {
	var n size
	flag.IntVar(&n.photos, "photos", 20_000, "photos of drawings in all")
	flag.IntVar(&n.ticks, "ticks", 112, "boxes ticked by a student in a project, at most 120")
	keep := flag.String("keep", "", "make it in this folder and leave it there; where it is made already, measure it")
	flag.StringVar(&n.only, "only", "", "measure this page alone, such as /projects/P/wall")
	profile := flag.String("cpuprofile", "", "write where the time goes on that page to this file")
	flag.Parse()
	n.profile = *profile
	if err := run(context.Background(), n, *keep); err != nil {
		log.Fatal(err)
	}
}

func run(ctx context.Context, n size, dir string) (err error) {
	if dir == "" {
		if dir, err = os.MkdirTemp("", "zesty-years-"); err != nil {
			return err
		}
		defer os.RemoveAll(dir)
	}
	server, err := mariadb.Start(ctx, dir)
	if err != nil {
		return err
	}
	defer server.Stop()
	db, err := store.Open(ctx, server.DSN())
	if err != nil {
		return err
	}
	defer db.Close()
	raw, err := sql.Open("mysql", server.DSN())
	if err != nil {
		return err
	}
	defer raw.Close()
	began := time.Now()
	there, err := db.CountTeachers(ctx)
	if err == nil && there == 0 {
		err = fill(ctx, db, raw, n)
		fmt.Printf("made in %.0f s\n", time.Since(began).Seconds())
	}
	if err != nil {
		return err
	}
	return measure(ctx, db, n, server.DSN())
}

// fill makes people by the store, which knows how, and what there is much of by SQL.
func fill(ctx context.Context, db *store.Store, raw *sql.DB, n size) error {
	for i := range teachers {
		if _, err := db.AddTeacher(ctx, "Quay Lane", fmt.Sprintf("t%d@quay.example", i+1), fmt.Sprintf("Teacher %d", i+1), password); err != nil {
			return err
		}
	}
	plan, err := grid.Make(grid.Request{Name: "Harbour", Picture: [2]int{800, 960}, Units: "in", Reference: "10 x 12 in", ReferenceSquare: "1 in", Scale: "1.5"})
	if err != nil {
		return err
	}
	file, err := grid.Encode(plan)
	if err != nil {
		return err
	}
	photo, err := painted(800, 960)
	if err != nil {
		return err
	}
	for _, q := range []struct {
		query string
		args  []any
	}{
		// A class a teacher and year, the older ones put away; class c is of teacher (c-1) % teachers + 1.
		{`INSERT INTO classes (id, teacher_id, name, created_at, put_away_at) SELECT seq, (seq - 1) % ? + 1, CONCAT('Class ', seq), NOW(3), IF(seq <= ?, NOW(3), NULL) FROM seq_1_to_60`,
			[]any{teachers, teachers * (years - 1)}},
		{`INSERT INTO students (id, class_id, name, created_at) SELECT seq, (seq - 1) DIV ? + 1, CONCAT('Student ', seq), NOW(3) FROM seq_1_to_1800`, []any{students}},
		{`INSERT INTO pictures (id, teacher_id, name, width, height, size, hash, created_at, purpose, tags) SELECT seq, ((seq - 1) DIV ?) % ? + 1, CONCAT('Picture ', seq), 800, 960, ?, UNHEX(SHA2(seq, 256)), NOW(3), 'reference', 'harbour' FROM seq_1_to_600`,
			[]any{projects, teachers, len(photo)}},
		{`INSERT INTO picture_files (picture_id, role, kind, bytes) SELECT seq, role, 'image/jpeg', ? FROM seq_1_to_600 JOIN (SELECT 'full' AS role UNION SELECT 'view' UNION SELECT 'thumb') AS roles`,
			[]any{photo}},
		// A project is of a class and a season; one in two of the older ones was put away.
		{`INSERT INTO projects (id, teacher_id, class_id, picture_id, name, looseness, plan_version, created_at, updated_at, put_away_at, printed_at)
			SELECT seq, ((seq - 1) DIV ?) % ? + 1, (seq - 1) DIV ? + 1, seq, CONCAT('Harbour ', seq), 'normal', 1, NOW(3), NOW(3) - INTERVAL (600 - seq) * 3 DAY, IF(seq <= 480 AND seq % 2 = 0, NOW(3), NULL), NOW(3) FROM seq_1_to_600`, []any{projects, teachers, projects}},
		{`INSERT INTO project_pictures (project_id, picture_id) SELECT seq, seq FROM seq_1_to_600`, nil},
		{`INSERT INTO project_classes (project_id, class_id) SELECT id, class_id FROM projects`, nil},
		{`INSERT INTO plans (project_id, version, json, created_at) SELECT seq, 1, ?, NOW(3) FROM seq_1_to_600`, []any{string(file)}},
		{`INSERT INTO notes (project_id, student_id, words, created_at, by_whom) SELECT projects.id, students.id, 'Found the ellipse.', NOW(3), 'Teacher' FROM projects JOIN students USING (class_id)`,
			nil},
	} {
		if _, err := raw.ExecContext(ctx, q.query, q.args...); err != nil {
			return fmt.Errorf("%.60s: %w", q.query, err)
		}
	}
	for p := 1; p <= classes*projects; p++ {
		_, err := raw.ExecContext(ctx, `INSERT INTO ticks (project_id, student_id, label, ticked_at)
			SELECT ?, students.id, CONCAT(CHAR(65 + (seq - 1) DIV 12), (seq - 1) % 12 + 1), NOW(3) - INTERVAL seq MINUTE FROM students JOIN seq_1_to_120 ON seq <= ? WHERE class_id = ?`, p, n.ticks, (p-1)/projects+1)
		if err != nil {
			return err
		}
	}
	return photos(ctx, raw, n.photos, photo)
}

// photos adds check-ins with photos of about 200 KB in all, no two alike, so that
// they pack as photos do: not at all.
func photos(ctx context.Context, raw *sql.DB, n int, photo []byte) error {
	noise := rand.NewChaCha8([32]byte{7})
	unlike := func(bytes int) []byte {
		b := make([]byte, len(photo), len(photo)+bytes)
		copy(b, photo)
		tail := make([]byte, bytes)
		noise.Read(tail)
		return append(b, tail...)
	}
	const batch = 50
	for first := 0; first < n; first += batch {
		tx, err := raw.BeginTx(ctx, nil)
		if err != nil {
			return err
		}
		defer tx.Rollback()
		for i := first; i < min(n, first+batch); i++ {
			id, project := 1001+i, i%(classes*projects)+1
			student := (project-1)/projects*students + i/(classes*projects)%students + 1
			full := unlike(150_000)
			for _, q := range []struct {
				query string
				args  []any
			}{
				{`INSERT INTO pictures (id, teacher_id, name, width, height, size, hash, created_at, purpose) SELECT ?, teacher_id, 'drawing', 800, 960, ?, UNHEX(SHA2(?, 256)), NOW(3), 'photo' FROM projects WHERE id = ?`,
					[]any{id, len(full), id, project}},
				{`INSERT INTO picture_files (picture_id, role, kind, bytes) VALUES (?, 'full', 'image/jpeg', ?), (?, 'view', 'image/jpeg', ?), (?, 'thumb', 'image/jpeg', ?)`,
					[]any{id, full, id, unlike(40_000), id, unlike(5_000)}},
				{`INSERT INTO check_ins (project_id, student_id, picture_id, corners, version, gist, created_at) VALUES (?, ?, ?, '[[1,1],[700,1],[700,900],[1,900]]', 1, '{}', NOW(3))`,
					[]any{project, student, id}},
			} {
				if _, err := tx.ExecContext(ctx, q.query, q.args...); err != nil {
					return fmt.Errorf("%.40s: %w", q.query, err)
				}
			}
		}
		if err := tx.Commit(); err != nil {
			return err
		}
	}
	return nil
}

// painted is a small picture as JPEG.
func painted(w, h int) ([]byte, error) {
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			img.Set(x, y, color.RGBA{uint8(x / 4), uint8(y / 4), uint8((x*x + y*y) / 9000), 255})
		}
	}
	var out bytes.Buffer
	err := jpeg.Encode(&out, img, &jpeg.Options{Quality: 60})
	return out.Bytes(), err
}
