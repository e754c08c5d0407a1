// Package records hands out everything that is kept of one student, for whoever
// asks for it: a page to read, the same as data, and the photos.
package records

import (
	"archive/zip"
	"context"
	"embed"
	"encoding/json"
	"fmt"
	"html/template"
	"io"
	"slices"
	"time"

	"zestysketch/internal/store"
)

//go:embed *.html
var files embed.FS

var page = template.Must(template.ParseFS(files, "record.html"))

// record is what the page shows.
type record struct {
	Student  store.Student
	Class    string
	Made     string
	Projects []project
	Absent   []any
	Photos   []string
}

// project is what is kept of a student in one project.
type project struct {
	Name                     string
	Boxes, Earlier           int
	Stages, Verdicts, Photos []string
	Notes                    []string
}

// Write writes a ZIP of everything that is kept of a student of one of the
// teacher's classes: index.html, record.json and the photos. Dates are those of
// a clock. The error is store.ErrNotFound for somebody else's student.
func Write(ctx context.Context, s *store.Store, teacher, student uint64, date func(time.Time) string, out io.Writer) error {
	one, err := s.Student(ctx, teacher, student)
	if err != nil {
		return err
	}
	rows, err := s.Rows(ctx, teacher, student)
	if err != nil {
		return err
	}
	photos, err := s.PhotosOf(ctx, student)
	if err != nil {
		return err
	}
	class, err := s.Class(ctx, teacher, one.ClassID)
	if err != nil {
		return err
	}
	names, err := s.ProjectNames(ctx, teacher)
	if err != nil {
		return err
	}
	r := record{Student: one, Class: class.Name, Made: date(time.Now()), Projects: gathered(rows, names, date)}
	for _, a := range rows["absences"] {
		r.Absent = append(r.Absent, a["day"])
	}
	z := zip.NewWriter(out)
	for _, p := range photos {
		r.Photos = append(r.Photos, fileOf(p.ID))
	}
	w, err := z.Create("index.html")
	if err != nil {
		return err
	}
	if err := page.Execute(w, r); err != nil {
		return err
	}
	if w, err = z.Create("record.json"); err != nil {
		return err
	}
	data := json.NewEncoder(w)
	data.SetIndent("", "  ")
	if err := data.Encode(map[string]any{"format": "zesty-record/1", "made": r.Made, "class": class.Name, "tables": rows}); err != nil {
		return err
	}
	for _, p := range photos {
		if err := photo(ctx, s, teacher, p.ID, z); err != nil {
			return err
		}
	}
	return z.Close()
}

func fileOf(picture uint64) string { return fmt.Sprintf("photos/%d.jpg", picture) }

func photo(ctx context.Context, s *store.Store, teacher, id uint64, z *zip.Writer) error {
	f, err := s.PictureFile(ctx, teacher, id, store.Full)
	if err != nil {
		return err
	}
	// A photo is packed already.
	w, err := z.CreateHeader(&zip.FileHeader{Name: fileOf(id), Method: zip.Store})
	if err != nil {
		return err
	}
	_, err = w.Write(f.Bytes)
	return err
}

// gathered puts the rows of every table under their projects, the latest first.
func gathered(rows map[string][]map[string]any, names map[uint64]string, date func(time.Time) string) []project {
	by := map[uint64]*project{}
	of := func(row map[string]any) *project {
		id := number(row["project_id"])
		if by[id] == nil {
			by[id] = &project{Name: names[id]}
		}
		return by[id]
	}
	when := func(v any) string {
		if t, ok := v.(time.Time); ok {
			return date(t)
		}
		return ""
	}
	for _, row := range rows["ticks"] {
		of(row).Boxes++
	}
	for _, row := range rows["tick_history"] {
		of(row).Earlier++
	}
	for _, row := range rows["stage_records"] {
		p := of(row)
		p.Stages = append(p.Stages, fmt.Sprintf("%s: %v", when(row["done_at"]), row["stage"]))
	}
	for _, row := range rows["verdicts"] {
		p := of(row)
		p.Verdicts = append(p.Verdicts, fmt.Sprintf("%s: %v, %v, by %v. %v", when(row["created_at"]), row["stage"], row["verdict"], row["by_whom"], row["note"]))
	}
	for _, row := range rows["notes"] {
		p := of(row)
		p.Notes = append(p.Notes, fmt.Sprintf("%s: %v", when(row["created_at"]), row["words"]))
	}
	for _, row := range rows["check_ins"] {
		p := of(row)
		p.Photos = append(p.Photos, fileOf(number(row["picture_id"])))
	}
	ids := make([]uint64, 0, len(by))
	for id := range by {
		ids = append(ids, id)
	}
	slices.Sort(ids)
	slices.Reverse(ids)
	list := make([]project, len(ids))
	for i, id := range ids {
		list[i] = *by[id]
	}
	return list
}

// number reads a database's whole number.
func number(v any) uint64 {
	switch n := v.(type) {
	case uint64:
		return n
	case int64:
		return uint64(n)
	case uint32:
		return uint64(n)
	}
	return 0
}
