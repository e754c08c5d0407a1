package demo

import (
	"bytes"
	"image/png"
	"sync"

	"zestysketch/internal/checkin"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/render"
	"zestysketch/internal/store"
)

// drawing is one student's drawing as one camera sees it.
type drawing struct {
	by     int // in the class, by name
	hand   Hand
	camera Camera
	tilt   float64
	laid   laid
	parts  bool // drawn with parts that are not as they should be
}

// laid is how a drawing was laid out for its photo: with its tags, without but
// handed in by its student, or without anything.
type laid int

const (
	tagged laid = iota
	named
	bare
)

// drawings are those of the demo: a good one, one that leans, one half done, one
// with a wandering door, one of a student who drew on, one whose parts are off, and one without tags.
func drawings(p grid.Plan) []drawing {
	cell := p.Grid.SheetCell[0]
	phone := Camera{Width: 1500, Height: 2000, Dim: 0.3, Noise: 3}
	// Many in the class see the boat too far from the edge.
	boat := func(at plane.Point) plane.Point {
		if at.X < 2.4*cell && at.Y > 4.4*cell && at.Y < 6.2*cell {
			return plane.Pt(0.32*cell, -0.12*cell)
		}
		return plane.Point{}
	}
	return []drawing{
		{2, Hand{Turn: 0.2, Size: 1.002, Unsteady: 0.25, PencilWeight: 1.1, Slips: map[string]plane.Point{"Tip of the mast": {X: 0.42 * cell}}}, phone, 0.03, tagged, false},
		{5, Hand{Turn: 1.6, Size: 1.03, Unsteady: 0.3, PencilWeight: 1.2, Slips: map[string]plane.Point{"Top of the door": plane.Pt(-0.45*cell, -0.2*cell)}}, phone, 0.035, tagged, false},
		{9, Hand{Size: 1, Unsteady: 0.35, PencilWeight: 1, Rows: 4, Distortion: boat}, phone, 0.03, tagged, false},
		{9, Hand{Size: 1, Unsteady: 0.35, PencilWeight: 1, Rows: 7}, phone, 0.03, tagged, false},
		{12, Hand{Size: 0.998, Unsteady: 0.3, PencilWeight: 1, Distortion: boat}, phone, 0.02, named, false},
		{16, Hand{Size: 1, Unsteady: 0.3, PencilWeight: 1.1, Distortion: boat, Pencil: graphite(96)}, phone, 0.03, tagged, false},
		{19, Hand{Size: 1, Unsteady: 0.3, PencilWeight: 1.1}, phone, 0.03, tagged, true},
		{22, Hand{Size: 1, Unsteady: 0.3, PencilWeight: 1}, phone, 0.02, bare, false},
	}
}

// partsOff is the harbour light with a window of the tower too high, the cloud on the right forgotten and
// a sun that the picture has not.
func partsOff(sc Scene) Scene {
	var items []page.Item
	for _, item := range sc.Page.Items {
		line, ok := item.(page.Path)
		switch mid := plane.Ring(line.Points).Bounds().Middle(); {
		case !ok || mid.Sub(pt(142, 27)).Len() < 12:
			continue
		case mid.Sub(pt(115, 104)).Len() < 5:
			item = page.Moved(line, func(q plane.Point) plane.Point { return q.Sub(pt(0, 9)) })
		}
		items = append(items, item)
	}
	out := Scene{Page: sc.Page, Landmarks: sc.Landmarks}
	out.Page.Items = items
	out.outline(pencil, 255, arc(66, 22, 9, 9, 0, 360)...)
	return out
}

// checkIns photographs what the class has drawn and takes it in as a teacher
// would: by its tags, or, without, by whose it is said to be.
func (l *loader) checkIns(p store.Project, plan grid.Plan, sc Scene) error {
	full, err := l.s.Project(l.ctx, l.teacher.ID, p.ID)
	if err != nil {
		return err
	}
	all := drawings(plan)
	shots, errs := make([]Shot, len(all)), make([]error, len(all))
	var cameras sync.WaitGroup
	for i, d := range all {
		cameras.Go(func() {
			who, tags := l.class.Students[d.by].ID, uint64(0)
			if d.laid == tagged {
				tags = p.ID
			}
			drawn := sc
			if d.parts {
				drawn = partsOff(sc)
			}
			shots[i], errs[i] = Photograph(plan, drawn, d.hand, d.camera, tags, who, d.tilt, seeded(uint64(40+i)))
		})
	}
	cameras.Wait()
	for i, d := range all {
		given := uint64(0)
		if d.laid == named {
			given = l.class.Students[d.by].ID
		}
		if errs[i] != nil {
			return errs[i]
		}
		if _, err := checkin.Take(l.ctx, l.s, full, given, "photo.jpg", shots[i].Photo); err != nil {
			return err
		}
	}
	return nil
}

// Photos returns photos to try the check table with, by file name, as a phone
// would leave them in a folder: of four students' drawings of the demo's harbour
// light with their tags, two alone and two on one photo, a file that is no
// picture, and the picture and plan themselves. Photos of one drawing are so
// many pixels wide.
func Photos(project uint64, students [4]uint64, wide int) (map[string][]byte, error) {
	sc, plan, err := HarbourLight()
	if err != nil {
		return nil, err
	}
	files := map[string][]byte{"not-a-photo.jpg": []byte("shopping list: tape, two rulers, soft pencils\n")}
	rng := seeded(11)
	phone := Camera{Width: wide, Height: wide * 4 / 3, Dim: 0.3, Noise: 3, Blur: 0.5}
	for i, name := range []string{"first.jpg", "second.jpg"} {
		hand := Hand{Size: 1 + 0.03*float64(i), Unsteady: 0.3, PencilWeight: 1}
		shot, err := Photograph(plan, sc, hand, phone, project, students[i], 0.04, rng)
		if err != nil {
			return nil, err
		}
		files[name] = shot.Photo
	}
	if files["two-at-once.jpg"], err = pairOnADesk(plan, sc, project, students[2], students[3]); err != nil {
		return nil, err
	}
	var picture bytes.Buffer
	if err := png.Encode(&picture, render.Pixels(sc.Page, perMM, nil)); err != nil {
		return nil, err
	}
	files["picture.png"] = picture.Bytes()
	files["plan.json"], err = grid.Encode(plan)
	return files, err
}

// pairOnADesk photographs two students' drawings side by side.
func pairOnADesk(p grid.Plan, sc Scene, project, left, right uint64) ([]byte, error) {
	rng := seeded(12)
	stock := p.StockSize()
	w := float64(stock.W) + 2*Table
	desk := NewDesk(measure.Size{W: measure.Length(2*w + 2*Table), H: stock.H + 4*Table})
	for i, student := range []uint64{left, right} {
		hand := Hand{Size: 1, Turn: float64(i), Unsteady: 0.3, PencilWeight: 1.1}
		home := desk.Lay(p, hand.Draw(p, sc, rng), pt(2*Table+float64(i)*w, 2*Table), false)
		if err := desk.Tag(p, project, student, home, rng); err != nil {
			return nil, err
		}
	}
	c := Camera{Width: 3200, Height: 2400, Dim: 0.25, Noise: 3}
	c.From = c.above(2*w, float64(stock.H)+2*Table, pt(Table, Table), 0.01, rng)
	return c.Shoot(desk, rng)
}
