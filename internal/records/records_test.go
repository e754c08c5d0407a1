package records

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"io"
	"os"
	"strings"
	"testing"
	"time"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/mariadb/mariadbtest"
	"zestysketch/internal/store"
	"zestysketch/internal/store/storetest"
)

func TestMain(m *testing.M) { os.Exit(mariadbtest.Run(m)) }

// Everything of one student is in the ZIP, to read and as data, with the photo's
// own bytes; nothing of a classmate is, and another teacher gets none.
func TestRecord(t *testing.T) {
	ctx := context.Background()
	s := storetest.New(t, "Ada", "Brackenbury")
	p := store.Project{TeacherID: s.Teacher.ID, ClassID: &s.Class.ID, Name: "Harbour light", Looseness: accuracy.Normal}
	storetest.Must(t, s.DB.AddProject(ctx, &p))
	for i, words := range []string{"Ada <b>found</b> the ellipse.", "Brackenbury lost a pencil."} {
		one := s.Class.Students[i].ID
		pic := store.Picture{TeacherID: s.Teacher.ID, Name: "drawing", Width: 4, Height: 3, Hash: []byte(words), Purpose: store.ForCheckIn}
		storetest.Must(t, s.DB.AddPicture(ctx, &pic, []store.PictureFile{{Role: store.Full, Kind: "image/jpeg", Bytes: []byte("photo of " + words)}}))
		storetest.Must(t, errors.Join(s.DB.TickBoxes(ctx, s.Teacher.ID, p.ID, one, []string{"A1", "B1"}, true, time.Now()),
			s.DB.AddNote(ctx, s.Teacher.ID, &store.Note{ProjectID: p.ID, StudentID: &one, Words: words}),
			s.DB.MarkAbsent(ctx, s.Teacher.ID, p.ID, one, "2026-11-20", true),
			s.DB.AddCheckIn(ctx, s.Teacher.ID, &store.CheckIn{ProjectID: p.ID, StudentID: one, PictureID: pic.ID})))
	}
	date := func(t time.Time) string { return t.Format(time.DateOnly) }
	var out bytes.Buffer
	storetest.Must(t, Write(ctx, s.DB, s.Teacher.ID, s.Class.Students[0].ID, date, &out))
	z, err := zip.NewReader(bytes.NewReader(out.Bytes()), int64(out.Len()))
	storetest.Must(t, err)
	files := map[string]string{}
	for _, f := range z.File {
		r, err := f.Open()
		storetest.Must(t, err)
		b, err := io.ReadAll(r)
		storetest.Must(t, err)
		files[f.Name] = string(b)
	}
	page := files["index.html"]
	for _, want := range []string{"<h1>Ada</h1>", "Class 7 Quay", "<h2>Harbour light</h2>", "2 boxes ticked",
		"Ada &lt;b&gt;found&lt;/b&gt; the ellipse.", "Absent on 2026-11-20", `<img src="photos/`} {
		if !strings.Contains(page, want) {
			t.Errorf("the page lacks %q:\n%s", want, page)
		}
	}
	var data struct {
		Format string
		Tables map[string][]map[string]any
	}
	if err := json.Unmarshal([]byte(files["record.json"]), &data); err != nil || data.Format != "zesty-record/1" ||
		len(data.Tables["ticks"]) != 2 || len(data.Tables["check_ins"]) != 1 || len(data.Tables["students"]) != 1 {
		t.Errorf("%v, %+v", err, data)
	}
	photos := 0
	for name, b := range files {
		if strings.HasPrefix(name, "photos/") && b == "photo of Ada <b>found</b> the ellipse." {
			photos++
		}
		if strings.Contains(b, "Brackenbury") {
			t.Errorf("%s says something of a classmate", name)
		}
	}
	if photos != 1 || len(files) != 3 {
		t.Errorf("%d photos, %d files", photos, len(files))
	}
	if err := Write(ctx, s.DB, s.Teacher.ID+1, s.Class.Students[0].ID, date, io.Discard); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("another teacher: %v", err)
	}
}
