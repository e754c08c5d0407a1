package records

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"image"
	"image/color"
	"image/jpeg"
	"io"
	"os"
	"strings"
	"testing"
	"time"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/plane"
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

// Of a photo with two drawings, each student is given the part with theirs; of one in which nobody placed the
// corners, nothing but a word.
func TestSharedPhotosAreCut(t *testing.T) {
	ctx := context.Background()
	s := storetest.New(t, "Ada", "Brackenbury")
	p := store.Project{TeacherID: s.Teacher.ID, ClassID: &s.Class.ID, Name: "Harbour light", Looseness: accuracy.Normal}
	storetest.Must(t, s.DB.AddProject(ctx, &p))
	img := image.NewRGBA(image.Rect(0, 0, 400, 300)) // Ada's sheet is red and lies aslant, Brackenbury's is blue
	red := plane.Quad{plane.Pt(20, 40), plane.Pt(170, 10), plane.Pt(200, 240), plane.Pt(50, 270)}
	blue := plane.Quad{plane.Pt(220, 20), plane.Pt(390, 20), plane.Pt(390, 280), plane.Pt(220, 280)}
	for y := range 300 {
		for x := range 400 {
			c := color.RGBA{90, 90, 90, 255}
			switch {
			case plane.Ring(red[:]).Has(plane.Pt(float64(x), float64(y))):
				c = color.RGBA{200, 0, 0, 255}
			case plane.Ring(blue[:]).Has(plane.Pt(float64(x), float64(y))):
				c = color.RGBA{0, 0, 200, 255}
			}
			img.SetRGBA(x, y, c)
		}
	}
	var file bytes.Buffer
	storetest.Must(t, jpeg.Encode(&file, img, nil))
	for placed, where := range map[string][]*plane.Quad{"placed": {&red, &blue}, "unplaced": {nil, &blue}} {
		pic := store.Picture{TeacherID: s.Teacher.ID, Name: placed, Width: 400, Height: 300, Hash: []byte(placed), Purpose: store.ForCheckIn}
		storetest.Must(t, s.DB.AddPicture(ctx, &pic, []store.PictureFile{{Role: store.Full, Kind: "image/jpeg", Bytes: file.Bytes()}}))
		for i, q := range where {
			storetest.Must(t, s.DB.AddCheckIn(ctx, s.Teacher.ID, &store.CheckIn{ProjectID: p.ID, StudentID: s.Class.Students[i].ID, PictureID: pic.ID, Corners: q}))
		}
	}
	var out bytes.Buffer
	storetest.Must(t, Write(ctx, s.DB, s.Teacher.ID, s.Class.Students[0].ID, func(t time.Time) string { return "" }, &out))
	z, err := zip.NewReader(bytes.NewReader(out.Bytes()), int64(out.Len()))
	storetest.Must(t, err)
	photos := 0
	for _, f := range z.File {
		r, err := f.Open()
		storetest.Must(t, err)
		b, err := io.ReadAll(r)
		storetest.Must(t, err)
		if f.Name == "index.html" && (strings.Count(string(b), "<img") != 1 || !strings.Contains(string(b), "1 photo that shows another student")) {
			t.Errorf("the page says %s", b)
		}
		if !strings.HasPrefix(f.Name, "photos/") {
			continue
		}
		photos++
		got, err := jpeg.Decode(bytes.NewReader(b))
		storetest.Must(t, err)
		if b := got.Bounds(); b.Dx() > 225 || b.Dx() < 180 || b.Dy() < 260 {
			t.Errorf("cut to %v; want about Ada's sheet", b)
		}
		reds := 0
		for y := range got.Bounds().Dy() {
			for x := range got.Bounds().Dx() {
				r, g, b, _ := got.At(x, y).RGBA()
				if b > r+0x6000 && b > g+0x6000 {
					t.Fatalf("at %d, %d something of Brackenbury's is seen", x, y)
				}
				if r > b+0x6000 {
					reds++
				}
			}
		}
		if reds < 30_000 {
			t.Errorf("%d pixels of Ada's own; want all of her sheet", reds)
		}
	}
	if photos != 1 {
		t.Errorf("%d photos; want 1", photos)
	}
}
