package press

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"image"
	"image/jpeg"
	"io"
	"log/slog"
	"math/rand/v2"
	"os"
	"strings"
	"testing"
	"time"
	"unicode/utf8"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/mariadb/mariadbtest"
	"zestysketch/internal/render"
	"zestysketch/internal/store"
	"zestysketch/internal/store/storetest"
	"zestysketch/internal/work"
)

func TestMain(m *testing.M) { os.Exit(mariadbtest.Run(m)) }

// school is a teacher with a planned project and a class.
type school struct {
	db      *store.Store
	project store.Project
	picture []byte
}

func photograph(t testing.TB, w, h int) []byte {
	t.Helper()
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	rng := rand.New(rand.NewPCG(3, 5))
	for i := range img.Pix {
		img.Pix[i] = uint8(i/4/w/3 + rng.IntN(30))
		if i%4 == 3 {
			img.Pix[i] = 255
		}
	}
	var b bytes.Buffer
	if err := jpeg.Encode(&b, img, &jpeg.Options{Quality: 85}); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

func newSchool(t testing.TB, students, w, h int) school {
	t.Helper()
	var names []string
	for i := range students {
		names = append(names, fmt.Sprintf("Student %02d", i+1))
	}
	one, b := storetest.New(t, names...), photograph(t, w, h)
	plan, err := grid.Make(grid.Request{Name: "Pier", Picture: [2]int{w, h}, Reference: "6in", Paper: "12x18in", ReferenceSquare: "1in"})
	storetest.Must(t, err)
	return school{one.DB, one.Project(t, "Pier", one.Picture(t, "Pier", w, h, b), plan), b}
}

var four = Spec{Kinds: []page.Kind{sheet.KindCover, sheet.KindReference, sheet.KindClean, sheet.KindMarks}, Paper: "A4", Everyone: true, Base: "http://quay.example"}

// make makes a class set as the worker does, without the queue.
func (s school) make(t testing.TB, spec Spec) (Made, []byte) {
	t.Helper()
	ctx := context.Background()
	set, err := Load(ctx, s.db, s.project, spec)
	if err != nil {
		t.Fatal(err)
	}
	made, err := set.Make(ctx, spec, func(int, int) error { return nil })
	if err != nil {
		t.Fatal(err)
	}
	pictures, err := Files(ctx, s.db, s.project.TeacherID, made, store.Full)
	if err != nil {
		t.Fatal(err)
	}
	var out bytes.Buffer
	if err := render.PDF(&out, s.project.Name, made.Pages, pictures); err != nil {
		t.Fatal(err)
	}
	return made, out.Bytes()
}

// A set has every student's own name, link, hand, units and frame; the
// picture is in the file once, and the file is no larger than design.md allows.
func TestClassSet(t *testing.T) {
	s := newSchool(t, 5, 900, 1100)
	ctx := context.Background()
	students := s.project.Class.Students
	teacher := s.project.TeacherID
	if err := s.db.DescribeStudent(ctx, teacher, students[1].ID, store.Traits{Hand: "left", Units: "cm"}); err != nil {
		t.Fatal(err)
	}
	frame := store.Frame{ProjectID: s.project.ID, PictureID: *s.project.PictureID, Name: "Corner", Frame: "450,550 500x600 10"}
	if err := s.db.AddFrame(ctx, teacher, &frame); err != nil {
		t.Fatal(err)
	}
	if err := s.db.Assign(ctx, teacher, store.Assignment{ProjectID: s.project.ID, StudentID: students[2].ID, FrameID: &frame.ID}); err != nil {
		t.Fatal(err)
	}
	project, err := s.db.Project(ctx, teacher, s.project.ID)
	if err != nil {
		t.Fatal(err)
	}
	s.project = project
	spec := four
	spec.Kinds = append(spec.Kinds, sheet.KindProject, sheet.KindTeacher)
	spec.Spare = 1
	made, file := s.make(t, spec)
	if len(made.Pages) != 6*5+1 {
		t.Errorf("%d pages; want five for each of six sets and one for the teacher", len(made.Pages))
	}
	if limit := len(s.picture) + 2<<20; len(file) > limit {
		t.Errorf("the file has %d bytes; want %d at most", len(file), limit)
	}
	if n := bytes.Count(file, []byte("/Subtype /Image")); n != 1 {
		t.Errorf("the picture is in the file %d times", n)
	}
	words := func(owner string) (all string, turned bool) {
		for _, p := range made.Pages {
			for _, item := range p.Items {
				if text, ok := item.(page.Text); ok && p.Owner == owner {
					all += text.Words + "\n"
				}
				if pic, ok := item.(page.Picture); ok && p.Owner == owner && pic.Part != nil {
					turned = turned || pic.Part.Angle == 10
				}
			}
		}
		return all, turned
	}
	first, _ := words("Student 01")
	if !strings.Contains(first, "http://quay.example/s/") || !strings.Contains(first, "7 Quay") || !strings.Contains(first, "1 in") {
		t.Errorf("the first set says %s", first)
	}
	if left, _ := words("Student 02"); !strings.Contains(left, "Left-handed") || !strings.Contains(left, "cm") || strings.Contains(left, " in on") {
		t.Errorf("the left-handed set in centimetres says %s", left)
	}
	if _, turned := words("Student 03"); !turned {
		t.Error("the third student's own frame is not used")
	}
}

// Pages that share sheets are made for half the paper, and every student has sheets of their
// own: of five pages a booklet takes two sheets, four sides; three cut apart. What the class
// has in common shares no side with a student's.
func TestSharedSheets(t *testing.T) {
	s := newSchool(t, 3, 900, 1100)
	for how, sides := range map[sheet.Sharing]int{sheet.Booklet: 4, sheet.Halves: 3} {
		spec := four
		spec.Kinds = []page.Kind{sheet.KindCover, sheet.KindProject, sheet.KindStudent, sheet.KindTape, sheet.KindValues, sheet.KindTeacher}
		spec.Share = how
		checked, err := spec.Check()
		if err != nil {
			t.Fatal(err)
		}
		made, _ := s.make(t, checked)
		of := map[string]int{}
		for _, p := range made.Pages {
			of[p.Owner]++
			if p.Size.W < p.Size.H {
				t.Errorf("%s: a side of %v stands upright", how, p.Size)
			}
		}
		if common := of[""]; of["Student 01"] != sides || of["Student 03"] != sides || common < 1 || common > 2 {
			t.Errorf("%s: sides by owner %v; want %d each", how, of, sides)
		}
	}
	if _, err := (Spec{Kinds: four.Kinds, Paper: "A4", Share: "scroll"}).Check(); !errors.Is(err, ErrSpec) {
		t.Errorf("a scroll: %v; want ErrSpec", err)
	}
}

// Kinds of pages that do not fit the paper are left out, each named once with how large the paper must be; the rest is
// printed. Where none fits the set is refused.
func TestKindsThatDoNotFit(t *testing.T) {
	s := newSchool(t, 3, 900, 1100)
	small := four
	small.Paper = "A5"
	made, _ := s.make(t, small)
	if len(made.Left) != 2 || !strings.Contains(made.Left[0]+made.Left[1], "does not fit the paper") {
		t.Errorf("left out %q; want the reference with and without lines, once each", made.Left)
	}
	kinds := map[page.Kind]int{}
	for _, p := range made.Pages {
		kinds[p.Kind]++
	}
	if kinds[sheet.KindCover] != 3 || kinds[sheet.KindMarks] == 0 || kinds[sheet.KindReference]+kinds[sheet.KindClean] > 0 {
		t.Errorf("made %v; want the covers and the marks of three", kinds)
	}
	small.Kinds = []page.Kind{sheet.KindReference, sheet.KindClean}
	set, err := Load(context.Background(), s.db, s.project, small)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := set.Sample(small); !errors.Is(err, page.ErrPaper) {
		t.Errorf("where nothing fits: %v", err)
	}
}

// Pages of a student's own picture that do not fit are named and left out; the rest are made.
func TestLeftOut(t *testing.T) {
	s := newSchool(t, 3, 900, 1100)
	ctx := context.Background()
	wide := store.Picture{TeacherID: s.project.TeacherID, Name: "Tall", Width: 300, Height: 900, Hash: make([]byte, 32), Purpose: store.ForReference}
	b := photograph(t, 300, 900)
	if err := s.db.AddPicture(ctx, &wide, []store.PictureFile{{Role: store.Full, Kind: "image/jpeg", Bytes: b}}); err != nil {
		t.Fatal(err)
	}
	if err := s.db.OfferPicture(ctx, s.project.TeacherID, s.project.ID, wide.ID); err != nil {
		t.Fatal(err)
	}
	if err := s.db.Assign(ctx, s.project.TeacherID, store.Assignment{ProjectID: s.project.ID, StudentID: s.project.Class.Students[1].ID, PictureID: &wide.ID}); err != nil {
		t.Fatal(err)
	}
	made, _ := s.make(t, four)
	if len(made.Left) != 2 || !strings.HasPrefix(made.Left[0], "Student 02, ") || !strings.Contains(made.Left[0], "does not fit the paper") || len(made.Pages) != 10 {
		t.Errorf("left out %q, %d pages; want two pages of the second, named, and ten pages", made.Left, len(made.Pages))
	}
	set, err := Load(ctx, s.db, s.project, four)
	if err != nil {
		t.Fatal(err)
	}
	set.Own = func(uint64) (grid.Plan, *store.Picture) { return set.Class, nil }
	if _, err := set.Make(ctx, four, func(int, int) error { return nil }); !errors.Is(err, ErrSpec) || !strings.Contains(err.Error(), "Student 01: has no picture yet") {
		t.Errorf("nobody has a picture: %v", err)
	}
}

func TestSpecs(t *testing.T) {
	for name, bad := range map[string]Spec{
		"no pages":     {Paper: "A4"},
		"no paper":     {Kinds: four.Kinds, Paper: "parchment"},
		"a stamp":      {Kinds: four.Kinds, Paper: "10x10mm"},
		"unknown page": {Kinds: []page.Kind{"poster"}, Paper: "A4"},
		"many spares":  {Kinds: four.Kinds, Paper: "A4", Spare: 99},
	} {
		if s, err := bad.Check(); !errors.Is(err, ErrSpec) {
			t.Errorf("%s: %+v, %v; want ErrSpec", name, s, err)
		}
	}
	for _, ready := range Ready {
		spec := ready.Spec
		spec.Paper = "Letter"
		checked, err := spec.Check()
		if err != nil || len(checked.Kinds) != len(spec.Kinds) || checked.KindNames() == "" {
			t.Errorf("%s: %v", ready.Name, err)
		}
	}
	if back, err := Parse(four.JSON()); err != nil || back.JSON() != four.JSON() {
		t.Errorf("kept and read: %+v, %v", back, err)
	}
	if _, err := Parse("{"); !errors.Is(err, ErrSpec) {
		t.Errorf("damaged: %v; want ErrSpec", err)
	}
}

// worker makes class sets.
func worker(s school) work.Worker {
	return work.Worker{Store: s.db, Log: quiet(), Makers: map[store.JobKind]work.Maker{store.SetJob: Make}}
}

func quiet() *slog.Logger { return slog.New(slog.NewTextHandler(io.Discard, nil)) }

// wait waits until a job is in a state, 20 seconds at most.
func (s school) wait(t *testing.T, id uint64, state store.JobState) store.Job {
	t.Helper()
	var j store.Job
	for deadline := time.Now().Add(20 * time.Second); time.Now().Before(deadline); time.Sleep(20 * time.Millisecond) {
		var err error
		if j, err = s.db.Job(context.Background(), s.project.TeacherID, id); err != nil {
			t.Fatal(err)
		}
		if j.State == state {
			return j
		}
	}
	t.Fatalf("job %d is %s, %q; want %s", id, j.State, j.Message, state)
	return j
}

func (s school) queue(t *testing.T, spec Spec) uint64 {
	t.Helper()
	j := store.Job{Kind: store.SetJob, ProjectID: s.project.ID, Spec: spec.JSON()}
	if err := s.db.AddJob(context.Background(), s.project.TeacherID, &j); err != nil {
		t.Fatal(err)
	}
	return j.ID
}

// Jobs are made by whoever takes them: one whose worker fell silent is taken
// again, a cancelled one keeps no file, and one that cannot be made says why.
func TestJobs(t *testing.T) {
	s := newSchool(t, 3, 300, 380)
	ctx, stop := context.WithCancel(context.Background())
	defer stop()
	taken := s.queue(t, four)
	// A worker takes it and dies.
	if j, ok, err := s.db.TakeJob(ctx); err != nil || !ok || j.ID != taken {
		t.Fatalf("took %+v, %v, %v", j, ok, err)
	}
	if j, ok, err := s.db.TakeJob(ctx); err != nil || ok {
		t.Fatalf("two workers took job %d, %v", j.ID, err)
	}
	cancelled := s.queue(t, four)
	if err := s.db.CancelJob(ctx, s.project.TeacherID, cancelled); err != nil {
		t.Fatal(err)
	}
	large := four
	large.Paper = "60x80mm"
	broken := s.queue(t, large)
	pool, err := s.db.Pool()
	if err != nil {
		t.Fatal(err)
	}
	if _, err := pool.Exec("UPDATE jobs SET beat_at = UTC_TIMESTAMP() - INTERVAL 1 MINUTE WHERE id = ?", taken); err != nil {
		t.Fatal(err)
	}
	done := make(chan struct{})
	go func() { worker(s).Run(ctx); close(done) }()
	s.wait(t, taken, store.Done)
	if f, err := s.db.SetBlob(ctx, taken); err != nil || f.Kind != "application/pdf" {
		t.Errorf("the file: %+v, %v", f, err)
	} else if b, err := io.ReadAll(f); err != nil || !bytes.HasPrefix(b, []byte("%PDF")) || int64(len(b)) != f.Size {
		t.Errorf("the file: %d bytes of %d, %v", len(b), f.Size, err)
	}
	if j := s.wait(t, broken, store.Failed); !strings.Contains(j.Message, "does not fit") {
		t.Errorf("a set on a stamp says %q", j.Message)
	}
	s.wait(t, cancelled, store.Cancelled)
	if _, err := s.db.SetBlob(ctx, cancelled); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("the cancelled job's file: %v; want none", err)
	}
	if going, err := s.db.Progress(ctx, cancelled, 1, 3); err != nil || going {
		t.Errorf("a cancelled job goes on: %v, %v", going, err)
	}
	if err := s.db.FinishSet(ctx, cancelled, []byte("x"), ""); err != nil {
		t.Error(err)
	}
	s.wait(t, cancelled, store.Cancelled)
	if err := s.db.SweepJobs(ctx, time.Now().Add(time.Hour)); err != nil {
		t.Error(err)
	}
	if _, err := s.db.Job(ctx, s.project.TeacherID, taken); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("after sweeping: %v; want no job", err)
	}
	stop()
	<-done
}

// A message in letters of more than one byte is kept whole letters long, a job
// that is never finished fails the third time with its reason, and one whose
// maker's clock is ahead is not lost.
func TestJobsThatStumble(t *testing.T) {
	s := newSchool(t, 1, 300, 380)
	ctx := context.Background()
	long := s.queue(t, four)
	if _, ok, err := s.db.TakeJob(ctx); !ok || err != nil {
		t.Fatal(ok, err)
	}
	if err := s.db.FinishSet(ctx, long, []byte("%PDF"), "x"+strings.Repeat("я", 2000)); err != nil {
		t.Errorf("two thousand letters: %v", err)
	}
	if j := s.wait(t, long, store.Done); utf8.RuneCountInString(j.Message) != 1000 {
		t.Errorf("%d letters kept; want 1000", utf8.RuneCountInString(j.Message))
	}
	stumbles := s.queue(t, four)
	pool, err := s.db.Pool()
	if err != nil {
		t.Fatal(err)
	}
	for try := range 3 {
		if j, ok, err := s.db.TakeJob(ctx); !ok || err != nil || j.ID != stumbles {
			t.Fatalf("try %d: %+v, %v, %v", try+1, j, ok, err)
		}
		ahead := "UPDATE jobs SET beat_at = UTC_TIMESTAMP() + INTERVAL 1 DAY WHERE id = ?" // a maker whose clock is a day ahead
		if _, err := pool.Exec(ahead, stumbles); err != nil {
			t.Fatal(err)
		}
		if j, ok, err := s.db.TakeJob(ctx); !ok || err != nil || j.ID != stumbles { // its machine died: no fault of the job's
			t.Fatalf("taken over, try %d: %+v, %v, %v", try+1, j, ok, err)
		}
		if err := s.db.RequeueJob(ctx, store.Job{ID: stumbles}, "мост"); err != nil {
			t.Fatal(err)
		}
	}
	if _, ok, err := s.db.TakeJob(ctx); ok || err != nil {
		t.Errorf("a fourth try: %v, %v", ok, err)
	}
	if j := s.wait(t, stumbles, store.Failed); !strings.Contains(j.Message, "мост") {
		t.Errorf("it failed and says %q", j.Message)
	}
}

func BenchmarkClassSet30(b *testing.B) {
	s := newSchool(b, 30, 4000, 3000)
	for b.Loop() {
		_, file := s.make(b, four)
		b.ReportMetric(float64(len(file)-len(s.picture)), "bytes-over-picture")
	}
}
