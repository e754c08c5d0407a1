package archive

import (
	"archive/zip"
	"bytes"
	"compress/flate"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"io"
	"os"
	"strings"
	"testing"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/mariadb/mariadbtest"
	"zestysketch/internal/press"
	"zestysketch/internal/store"
	"zestysketch/internal/store/storetest"
)

func TestMain(m *testing.M) { os.Exit(mariadbtest.Run(m)) }

// painted is a picture of an upright shape, as PNG.
func painted(t testing.TB) []byte {
	img := image.NewRGBA(image.Rect(0, 0, 70, 90))
	for y := range 90 {
		for x := range 70 {
			img.Set(x, y, color.RGBA{uint8(3 * x), uint8(2 * y), 90, 255})
		}
	}
	var out bytes.Buffer
	storetest.Must(t, png.Encode(&out, img))
	return out.Bytes()
}

// made is a file of a planned project with a second picture, a frame, landmarks,
// a road and a choice of pages, and the project.
func made(t testing.TB) (storetest.School, store.Project, []byte) {
	t.Helper()
	ctx := context.Background()
	s := storetest.New(t, "Ada")
	pic := s.Picture(t, "The lamp", 70, 90, painted(t))
	plan, err := grid.Make(grid.Request{Name: "Harbour light", Picture: [2]int{70, 90}, Units: "in", Reference: "7 x 9 in", ReferenceSquare: "1 in", Scale: "2"})
	storetest.Must(t, err)
	p := s.Project(t, "Harbour light", pic, plan)
	second := s.Picture(t, "The quay", 70, 90, painted(t))
	road := lesson.NewRoad()
	road.Stages[3].Minutes, road.Darks = 77, "last"
	spec := press.Spec{Kinds: []page.Kind{sheet.KindMarks}, Paper: "A4", Printer: 9, Students: []uint64{3}, Base: "https://quay.example", Class: 4}
	storetest.Must(t, errors.Join(s.DB.OfferPicture(ctx, s.Teacher.ID, p.ID, second.ID),
		s.DB.DescribePicture(ctx, s.Teacher.ID, second.ID, "The quay", "boats, water", 2),
		s.DB.AddFrame(ctx, s.Teacher.ID, &store.Frame{ProjectID: p.ID, PictureID: second.ID, Name: "Bow", Frame: "35,45 30x40 0"}),
		s.DB.AddLandmark(ctx, &store.Landmark{ProjectID: p.ID, PictureID: &pic.ID, Name: "Tip", Weight: 3, Class: accuracy.Critical, X: 10.5, Y: 70}),
		s.DB.SetLooseness(ctx, s.Teacher.ID, p.ID, accuracy.Loose), s.DB.SetCompare(ctx, s.Teacher.ID, p.ID, accuracy.Fold), s.DB.SetFree(ctx, s.Teacher.ID, p.ID, []string{"A1", "B2"}), s.DB.SetRoad(ctx, s.Teacher.ID, p.ID, road),
		s.DB.AddPrintSet(ctx, &store.PrintSet{TeacherID: s.Teacher.ID, Name: "Mine", Spec: spec.JSON()}),
		s.DB.AddNote(ctx, s.Teacher.ID, &store.Note{ProjectID: p.ID, StudentID: &s.Class.Students[0].ID, Words: "Ada found it."})))
	p = s.Reload(t, p)
	var out bytes.Buffer
	storetest.Must(t, Write(ctx, s.DB, p, &out))
	return s, p, out.Bytes()
}

// What is written is taken in elsewhere as it was, and again as a second one; of
// students and of the school nothing is in it.
func TestThereAndBack(t *testing.T) {
	ctx := context.Background()
	_, p, b := made(t)
	z, err := zip.NewReader(bytes.NewReader(b), int64(len(b)))
	storetest.Must(t, err)
	for _, part := range z.File {
		r, err := part.Open()
		storetest.Must(t, err)
		words, err := io.ReadAll(r)
		storetest.Must(t, err)
		if strings.Contains(string(words), "Ada") || strings.Contains(string(words), "quay.example") {
			t.Errorf("%s says something of the school: %s", part.Name, words)
		}
	}
	there := storetest.New(t)
	for range 2 {
		got, err := Take(ctx, there.DB, there.Teacher.ID, bytes.NewReader(b), int64(len(b)))
		storetest.Must(t, err)
		got = there.Reload(t, got)
		if got.Name != p.Name || got.Looseness != accuracy.Loose || got.Compare != accuracy.Fold || got.FreeBoxes != "A1 B2" ||
			got.Road.Stages[3].Minutes != 77 || got.Road.Darks != "last" || got.Class != nil ||
			got.Picture.Name != "The lamp" {
			t.Errorf("taken in: %+v", got)
		}
		var again bytes.Buffer
		storetest.Must(t, Write(ctx, there.DB, got, &again))
		was, is := said(t, b), said(t, again.Bytes())
		for _, part := range []string{aboutFile, planFile} {
			if was[part] != is[part] {
				t.Errorf("%s was\n%s\nand is\n%s", part, was[part], is[part])
			}
		}
	}
	sets, err := there.DB.PrintSets(ctx, there.Teacher.ID)
	storetest.Must(t, err)
	if len(sets) != 1 || sets[0].Name != "Mine" || strings.Contains(sets[0].Spec, "https") {
		t.Errorf("choices of pages: %+v; want one, once", sets)
	}
}

// said returns the parts of a file that are text.
func said(t *testing.T, b []byte) map[string]string {
	t.Helper()
	z, err := zip.NewReader(bytes.NewReader(b), int64(len(b)))
	storetest.Must(t, err)
	parts := map[string]string{}
	for _, f := range z.File {
		r, err := f.Open()
		storetest.Must(t, err)
		words, err := io.ReadAll(r)
		storetest.Must(t, err)
		parts[f.Name] = string(words)
	}
	return parts
}

// packed is a ZIP of parts.
func packed(t testing.TB, parts map[string]string) []byte {
	t.Helper()
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	for name, words := range parts {
		w, err := z.Create(name)
		storetest.Must(t, err)
		_, err = io.WriteString(w, words)
		storetest.Must(t, err)
	}
	storetest.Must(t, z.Close())
	return out.Bytes()
}

// bomb is a ZIP whose picture is zeros without end, packed small.
func bomb(t testing.TB, words string) []byte {
	t.Helper()
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	z.RegisterCompressor(zip.Deflate, func(w io.Writer) (io.WriteCloser, error) { return flate.NewWriter(w, flate.BestCompression) })
	w, err := z.Create(aboutFile)
	storetest.Must(t, err)
	io.WriteString(w, words)
	if w, err = z.Create("pictures/1"); err == nil {
		_, err = io.CopyN(w, zeros{}, 200<<20)
	}
	storetest.Must(t, err)
	storetest.Must(t, z.Close())
	return out.Bytes()
}

type zeros struct{}

func (zeros) Read(p []byte) (int, error) { clear(p); return len(p), nil }

// What cannot be taken in is said, and nothing of it is kept.
func TestBadFiles(t *testing.T) {
	ctx := context.Background()
	s := storetest.New(t)
	about := func(change string, args ...any) map[string]string {
		words := `{"format":"zesty-project/1","name":"Light","looseness":"normal","pictures":[{"file":"pictures/1","name":"Lamp","main":true}]}`
		parts := strings.SplitN(fmt.Sprintf(change, args...), "→", 2)
		if len(parts) == 2 {
			words = strings.Replace(words, parts[0], parts[1], 1)
		}
		return map[string]string{aboutFile: words, "pictures/1": string(painted(t))}
	}
	with := func(parts map[string]string, name, words string) map[string]string { parts[name] = words; return parts }
	many := map[string]string{}
	for i := range 5000 {
		many[fmt.Sprintf("%030d", i)] = ""
	}
	whole := packed(t, about(""))
	for what, b := range map[string][]byte{
		"nothing":                   nil,
		"no ZIP":                    []byte("a drawing"),
		"cut":                       whole[:len(whole)-30],
		"its middle changed":        append(append(bytes.Clone(whole[:200]), "harbour harbour"...), whole[215:]...),
		"without project.json":      packed(t, map[string]string{planFile: "{}"}),
		"another format":            packed(t, about("zesty-project/1→zesty-project/2")),
		"no JSON":                   packed(t, map[string]string{aboutFile: "{"}),
		"no name":                   packed(t, about(`"Light"→" "`)),
		"a long name":               packed(t, about(`"Light"→"%s"`, strings.Repeat("x", 81))),
		"unknown looseness":         packed(t, about(`"normal"→"wild"`)),
		"no main picture":           packed(t, about(`,"main":true→`)),
		"a missing picture":         packed(t, about(`pictures/1"→pictures/2"`)),
		"a path out":                packed(t, about(`pictures/1"→../../etc/passwd"`)),
		"no picture in it":          packed(t, with(about(""), "pictures/1", "<svg/>")),
		"a frame outside":           packed(t, about(`"main":true→"main":true,"frames":[{"name":"f","frame":"900,900 5x5 0"}]`)),
		"a landmark outside":        packed(t, about(`"main":true→"main":true,"landmarks":[{"name":"l","weight":1,"x":71,"y":1}]`)),
		"a landmark too heavy":      packed(t, about(`"main":true→"main":true,"landmarks":[{"name":"l","weight":9,"x":1,"y":1}]`)),
		"a road without drawing":    packed(t, about(`"normal"→"normal","road":{"stages":[]}`)),
		"no choice of pages":        packed(t, about(`"normal"→"normal","print_sets":[{"name":"x","spec":{"kinds":["nonsense"],"paper":"A4"}}]`)),
		"no plan":                   packed(t, with(about(""), planFile, `{"format":"zesty-plan/1"}`)),
		"a list of parts of 5000":   packed(t, many),
		"a picture of 200 MB zeros": bomb(t, about("")[aboutFile]),
		"a project.json of 2 MB":    packed(t, map[string]string{aboutFile: strings.Repeat(" ", 2<<20)}),
		"too many pictures":         packed(t, about(`"pictures":[→"pictures":[%s`, strings.Repeat(`{"file":"pictures/1","name":"x"},`, 30))),
	} {
		_, err := Take(ctx, s.DB, s.Teacher.ID, bytes.NewReader(b), int64(len(b)))
		if !errors.Is(err, ErrFile) {
			t.Errorf("%s: %v; want that it is not a project file", what, err)
		}
		if err != nil && len(err.Error()) > 400 {
			t.Errorf("%s: says too much: %v", what, err)
		}
	}
	list, err := s.DB.Projects(ctx, s.Teacher.ID)
	library, err2 := s.DB.Library(ctx, s.Teacher.ID, "")
	if err != nil || err2 != nil || len(list) != 0 || len(library) != 0 {
		t.Errorf("%d projects and %d pictures were kept of bad files; %v, %v", len(list), len(library), err, err2)
	}
	if _, err := Take(ctx, s.DB, s.Teacher.ID, bytes.NewReader(whole), int64(len(whole))); err != nil {
		t.Errorf("the file that they were made of: %v", err)
	}
}

// FuzzOpen reads what anybody may send: it is refused in words, or what is read is
// in order.
func FuzzOpen(f *testing.F) {
	f.Add(packed(f, map[string]string{aboutFile: `{"format":"zesty-project/1","name":"Light","looseness":"normal","pictures":[]}`}))
	f.Add(packed(f, map[string]string{aboutFile: `{"format":"zesty-project/1","name":"Light","looseness":"loose","pictures":[{"file":"p","name":"x","main":true}],"print_sets":[]}`, planFile: "{}"}))
	f.Add([]byte("PK\x05\x06"))
	f.Fuzz(func(t *testing.T, b []byte) {
		got, err := open(bytes.NewReader(b), int64(len(b)))
		if err != nil {
			if !errors.Is(err, ErrFile) {
				t.Errorf("%v is no ErrFile", err)
			}
			return
		}
		if got.Name == "" || len([]rune(got.Name)) > longestTitle || len(got.Pictures) > mostPictures {
			t.Errorf("read %+v", got.about)
		}
		if _, err := json.Marshal(got.about); err != nil {
			t.Errorf("what was read cannot be written: %v", err)
		}
	})
}
