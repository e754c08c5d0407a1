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
	"image"
	"image/color"
	"image/jpeg"
	"io"
	"slices"
	"time"

	"zestysketch/internal/core/plane"
	"zestysketch/internal/intake"
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
	Unplaced int // photos left out, for they show another's drawing too
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
	where, err := s.SharedPhotos(ctx, student)
	if err != nil {
		return err
	}
	shared, all := shared(where), len(photos)
	photos = slices.DeleteFunc(photos, func(p store.Picture) bool { return shared.unplaced(p.ID) })
	class, err := s.Class(ctx, teacher, one.ClassID)
	if err != nil {
		return err
	}
	names, err := s.ProjectNames(ctx, teacher)
	if err != nil {
		return err
	}
	r := record{Student: one, Class: class.Name, Made: date(time.Now()), Projects: gathered(rows, shared, names, date), Unplaced: all - len(photos)}
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
		if err := photo(ctx, s, teacher, p.ID, shared[p.ID], z); err != nil {
			return err
		}
	}
	return z.Close()
}

func fileOf(picture uint64) string { return fmt.Sprintf("photos/%d.jpg", picture) }

// shared are the photos that show another student's drawing too, with where this student's lies: nil where
// nobody said so, and then they are left out.
type shared map[uint64]*plane.Quad

func (s shared) unplaced(id uint64) bool {
	quad, with := s[id]
	return with && quad == nil
}

// photo puts a photo into the ZIP; of one that shows another student's drawing too, the part with theirs.
func photo(ctx context.Context, s *store.Store, teacher, id uint64, theirs *plane.Quad, z *zip.Writer) error {
	f, err := s.PictureFile(ctx, teacher, id, store.Full)
	if err != nil {
		return err
	}
	// A photo is packed already.
	w, err := z.CreateHeader(&zip.FileHeader{Name: fileOf(id), Method: zip.Store})
	if err != nil {
		return err
	}
	if theirs == nil {
		_, err = w.Write(f.Bytes)
		return err
	}
	return intake.Use(ctx, f.Bytes, func(img *image.RGBA) error {
		return jpeg.Encode(w, alone(img, *theirs), &jpeg.Options{Quality: 90})
	})
}

// besideSheet is how much of the paper about a drawing's outer frame is shown, as a share of its sides (ours).
const besideSheet = 0.06

// alone returns the part of a photo about one drawing, white where another's may lie.
func alone(img *image.RGBA, q plane.Quad) *image.RGBA {
	var middle plane.Point
	for _, c := range q {
		middle.X, middle.Y = middle.X+c.X/4, middle.Y+c.Y/4
	}
	box := image.Rectangle{}
	for i, c := range q {
		q[i] = plane.Pt(middle.X+(c.X-middle.X)*(1+2*besideSheet), middle.Y+(c.Y-middle.Y)*(1+2*besideSheet))
		box = box.Union(image.Rect(int(q[i].X), int(q[i].Y), int(q[i].X)+1, int(q[i].Y)+1))
	}
	box = box.Intersect(img.Rect)
	out := image.NewRGBA(image.Rect(0, 0, box.Dx(), box.Dy()))
	for y := range box.Dy() {
		for x := range box.Dx() {
			c := color.RGBA{255, 255, 255, 255}
			if at := image.Pt(x, y).Add(box.Min); plane.Ring(q[:]).Has(plane.Pt(float64(at.X), float64(at.Y))) {
				c = img.RGBAAt(at.X, at.Y)
			}
			out.SetRGBA(x, y, c)
		}
	}
	return out
}

// gathered puts the rows of every table under their projects, the latest first.
func gathered(rows map[string][]map[string]any, shared shared, names map[uint64]string, date func(time.Time) string) []project {
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
		if id := number(row["picture_id"]); !shared.unplaced(id) {
			p := of(row)
			p.Photos = append(p.Photos, fileOf(id))
		}
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
