package checkin_test

import (
	"bytes"
	"context"
	"errors"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"
	"math/rand/v2"
	"os"
	"testing"

	"zestysketch/internal/checkin"
	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/demo"
	"zestysketch/internal/intake"
	"zestysketch/internal/mariadb/mariadbtest"
	"zestysketch/internal/plans"
	"zestysketch/internal/store"
	"zestysketch/internal/store/storetest"
)

func TestMain(m *testing.M) { os.Exit(mariadbtest.Run(m)) }

// room is a project of the harbour light with a class of two.
type room struct {
	t       testing.TB
	s       *store.Store
	project store.Project
	class   store.Class
}

func newRoom(t testing.TB) room {
	t.Helper()
	school := storetest.New(t, "Ada", "Bryn")
	sample, err := demo.NewSample()
	storetest.Must(t, err)
	pic, files, err := intake.Take(context.Background(), "light.png", sample.Picture, store.ForReference)
	storetest.Must(t, err)
	pic.TeacherID = school.Teacher.ID
	storetest.Must(t, school.DB.AddPicture(context.Background(), &pic, files))
	return room{t, school.DB, school.Project(t, "Light", pic, sample.Plan), school.Class}
}

// photo returns a drawing by a student, with tags where a project is given.
func (r room) photo(tags, student uint64, hand demo.Hand) []byte {
	r.t.Helper()
	sc, plan, err := demo.HarbourLight()
	if err != nil {
		r.t.Fatal(err)
	}
	hand.PencilWeight, hand.Unsteady = 1, 0.25
	shot, err := demo.Photograph(plan, sc, hand, demo.Camera{Width: 1200, Height: 1600, Dim: 0.2, Noise: 2}, tags, student, 0.02, rand.New(rand.NewPCG(4, student)))
	if err != nil {
		r.t.Fatal(err)
	}
	return shot.Photo
}

// A tagged photo goes to its student, one without waits or goes to whom it is
// said to be, and a waiting one can be claimed; each keeps its own photo.
func TestTakeAndClaim(t *testing.T) {
	r := newRoom(t)
	ctx := context.Background()
	ada, bryn := r.class.Students[0].ID, r.class.Students[1].ID
	taken, err := checkin.Take(ctx, r.s, r.project, 0, "p.jpg", r.photo(r.project.ID, ada, demo.Hand{Size: 1}))
	if err != nil || len(taken.CheckIns) != 1 || taken.CheckIns[0].StudentID != ada || taken.CheckIns[0].Report.FoundBy != "tags" {
		t.Fatalf("tagged: %+v, %v", taken, err)
	}
	bare := r.photo(0, bryn, demo.Hand{Size: 1.02})
	named, err := checkin.Take(ctx, r.s, r.project, bryn, "p.jpg", bare)
	if err != nil || len(named.CheckIns) != 1 || named.CheckIns[0].StudentID != bryn || named.CheckIns[0].Report == nil {
		t.Fatalf("named: %+v, %v", named, err)
	}
	waiting, err := checkin.Take(ctx, r.s, r.project, 0, "p.jpg", bare)
	if err != nil || waiting.Stray == nil || len(waiting.CheckIns) != 0 {
		t.Fatalf("bare: %+v, %v; want it to wait", waiting, err)
	}
	x, err := r.s.Stray(ctx, r.project.TeacherID, waiting.Stray.ID)
	if err != nil {
		t.Fatal(err)
	}
	c, err := checkin.Claim(ctx, r.s, r.project, x, bryn)
	if err != nil || c.StudentID != bryn || c.PictureID != x.PictureID {
		t.Errorf("claimed: %+v, %v", c, err)
	}
	if left, err := r.s.Strays(ctx, r.project.ID); err != nil || len(left) != 0 {
		t.Errorf("%d still wait, %v", len(left), err)
	}
	if _, err := r.s.PictureFile(ctx, r.project.TeacherID, c.PictureID, store.Full); err != nil {
		t.Errorf("the claimed photo is gone: %v", err)
	}
	// A photo goes with the last that shows it.
	if err := r.s.RemoveCheckIn(ctx, r.project.TeacherID, c.ID); err != nil {
		t.Fatal(err)
	}
	if _, err := r.s.PictureFile(ctx, r.project.TeacherID, c.PictureID, store.Full); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("the photo of a check-in thrown away: %v; want it gone", err)
	}
	if err := r.s.RemoveCheckIn(ctx, r.project.TeacherID+1, taken.CheckIns[0].ID); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("another teacher throws a photo away: %v", err)
	}
	if _, err := checkin.Take(ctx, r.s, r.project, 0, "p.jpg", []byte("no picture")); !picture.Unreadable(err) {
		t.Errorf("no picture: %v", err)
	}
}

// What was measured is kept, is fresh until plan or tolerance change, and is
// the same when it is measured again.
func TestMeasuresAreKeptWithTheirPlan(t *testing.T) {
	r := newRoom(t)
	ctx := context.Background()
	ada := r.class.Students[0].ID
	taken, err := checkin.Take(ctx, r.s, r.project, ada, "p.jpg", r.photo(0, ada, demo.Hand{Size: 1.03}))
	if err != nil {
		t.Fatal(err)
	}
	c, err := r.s.CheckIn(ctx, r.project.TeacherID, taken.CheckIns[0].ID)
	if err != nil {
		t.Fatal(err)
	}
	j, err := checkin.Load(ctx, r.s, r.project, ada)
	if err != nil {
		t.Fatal(err)
	}
	if !j.Fresh(c) || len(c.Report.Cells) != j.Plan.Count() {
		t.Fatalf("kept report fresh %v with %d boxes; want %d", j.Fresh(c), len(c.Report.Cells), j.Plan.Count())
	}
	scale := c.Report.Fit.Scale
	if err := checkin.Again(ctx, r.s, j, &c); err != nil {
		t.Fatal(err)
	}
	if d := c.Report.Fit.Scale - scale; d > 0.15 || d < -0.15 { // the photo was encoded once more
		t.Errorf("measured again, the size is %+.2f %%; first it was %+.2f", c.Report.Fit.Scale, scale)
	}
	loose := j
	loose.Project.Looseness = accuracy.Loose
	if loose.Fresh(c) {
		t.Error("a report of another tolerance is called fresh")
	}
	other := j
	other.Plan.Grid.Columns++
	if other.Fresh(c) {
		t.Error("a report of another plan is called fresh")
	}
	if err := r.s.Place(ctx, &c); err != nil {
		t.Fatal(err)
	}
	c.Version--
	if err := r.s.Place(ctx, &c); !errors.Is(err, store.ErrConflict) {
		t.Errorf("an older version was kept: %v", err)
	}
}

// Without a plan nothing can be checked, and it is said.
func TestNoPlan(t *testing.T) {
	r := newRoom(t)
	ctx := context.Background()
	bare := store.Project{TeacherID: r.project.TeacherID, ClassID: r.project.ClassID, Name: "Bare", Looseness: accuracy.Normal}
	if err := r.s.AddProject(ctx, &bare); err != nil {
		t.Fatal(err)
	}
	if _, err := checkin.Load(ctx, r.s, bare, 0); !errors.Is(err, plans.ErrNone) {
		t.Errorf("%v; want ErrNone", err)
	}
}

// A photo and what hangs on it are kept together or not at all, and one that is
// sent again changes nothing.
func TestTogetherAndOnce(t *testing.T) {
	r := newRoom(t)
	ctx := context.Background()
	ada := r.class.Students[0].ID
	count := func() (pictures, checkIns, strays int) {
		t.Helper()
		list, err := r.s.CheckIns(ctx, r.project)
		storetest.Must(t, err)
		waiting, err := r.s.Strays(ctx, r.project.ID)
		storetest.Must(t, err)
		photos, err := r.s.CountPictures(ctx, r.project.TeacherID, store.ForCheckIn)
		storetest.Must(t, err)
		return photos, len(list), len(waiting)
	}
	bare, tagged := r.photo(0, ada, demo.Hand{Size: 1}), r.photo(r.project.ID, ada, demo.Hand{Size: 1.01})
	if _, err := checkin.Take(ctx, r.s, r.project, ada+99, "p.jpg", bare); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("for a student who is not there: %v; want ErrNotFound", err)
	}
	if p, c, x := count(); p+c+x != 0 {
		t.Errorf("after a photo that could not be kept: %d photos, %d check-ins, %d waiting; want none", p, c, x)
	}
	for range 3 {
		_, err := checkin.Take(ctx, r.s, r.project, 0, "p.jpg", tagged)
		storetest.Must(t, err)
		_, err = checkin.Take(ctx, r.s, r.project, 0, "p.jpg", bare)
		storetest.Must(t, err)
	}
	if p, c, x := count(); p != 2 || c != 1 || x != 1 {
		t.Errorf("two photos sent three times: %d photos, %d check-ins, %d waiting; want 2, 1, 1", p, c, x)
	}
	// The same photo for a student is theirs, once.
	for range 2 {
		taken, err := checkin.Take(ctx, r.s, r.project, ada, "p.jpg", bare)
		if err != nil || len(taken.CheckIns) != 1 || taken.CheckIns[0].StudentID != ada {
			t.Errorf("sent for a student: %+v, %v", taken, err)
		}
	}
	if _, c, _ := count(); c != 2 {
		t.Errorf("%d check-ins; want 2", c)
	}
}

// A photo and what hangs on it are kept once and whole, at whatever statement a
// deadlock comes.
func TestDeadlocks(t *testing.T) {
	r := newRoom(t)
	ctx := context.Background()
	tagged := r.photo(r.project.ID, r.class.Students[0].ID, demo.Hand{Size: 1})
	storetest.Deadlocks(t, r.s, func() func(*store.Store) error {
		list, err := r.s.CheckIns(ctx, r.project)
		storetest.Must(t, err)
		for _, c := range list {
			storetest.Must(t, r.s.RemoveCheckIn(ctx, r.project.TeacherID, c.ID))
		}
		return func(db *store.Store) error {
			_, err := checkin.Take(ctx, db, r.project, 0, "p.jpg", tagged)
			return err
		}
	})
}

// Of three tags the fourth corner is no parallelogram's where the camera looks from the side:
// the ruled grid tells it; where none shows, somebody is asked.
func TestThreeTags(t *testing.T) {
	r := newRoom(t)
	ctx := context.Background()
	sc, plan, err := demo.HarbourLight()
	storetest.Must(t, err)
	ada := r.class.Students[0].ID
	for name, erased := range map[string]bool{"ruled": false, "erased": true} {
		hand := demo.Hand{Size: 1, PencilWeight: 1, Unsteady: 0.25, Erased: erased}
		shot, err := demo.Photograph(plan, sc, hand, demo.Camera{Width: 1500, Height: 2000, Dim: 0.2, Noise: 2}, r.project.ID, ada, 0.05, rand.New(rand.NewPCG(9, 2)))
		storetest.Must(t, err)
		whole, err := jpeg.Decode(bytes.NewReader(shot.Photo))
		storetest.Must(t, err)
		// The fourth tag is hidden, as by a thumb: what lies out from the corner is one grey.
		img := image.NewRGBA(whole.Bounds())
		draw.Draw(img, img.Rect, whole, image.Point{}, draw.Src)
		corner := shot.Corners[2]
		box := image.Rect(int(corner.X)+2, int(corner.Y)+2, img.Rect.Max.X, img.Rect.Max.Y)
		draw.Draw(img, box, image.NewUniform(color.Gray{Y: 150}), image.Point{}, draw.Src)
		var photo bytes.Buffer
		storetest.Must(t, jpeg.Encode(&photo, img, &jpeg.Options{Quality: 92}))
		taken, err := checkin.Take(ctx, r.s, r.project, 0, name+".jpg", photo.Bytes())
		storetest.Must(t, err)
		if len(taken.CheckIns) != 1 || taken.CheckIns[0].Report == nil {
			t.Fatalf("%s: %+v", name, taken)
		}
		got := taken.CheckIns[0].Report
		cell := shot.Corners[1].Sub(shot.Corners[0]).Len() / float64(plan.Grid.Columns)
		off := got.Corners[2].Sub(shot.Corners[2]).Len() / cell
		if erased && !got.Ask || !erased && (got.Ask || off > 0.06) {
			t.Errorf("%s: found by %s, the fourth corner is %.2f of a box off, asked: %v, %q", name, got.FoundBy, off, got.Ask, got.Say)
		}
	}
}
