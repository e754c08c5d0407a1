package accuracy_test

import (
	"image"
	"math"
	"slices"
	"strings"
	"testing"

	"golang.org/x/image/font/gofont/gomediumitalic"
	"golang.org/x/image/font/gofont/gomono"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/demo"
	"zestysketch/internal/render"
)

// cropped is a photo without the left part of it.
func cropped(s *photo.Shot, share float64) *photo.Shot {
	w, h := s.Size()
	from := int(share * float64(w))
	out := image.NewRGBA(image.Rect(0, 0, w-from, h))
	for y := range h {
		copy(out.Pix[y*out.Stride:(y+1)*out.Stride], s.Full.Pix[y*s.Full.Stride+4*from:])
	}
	return photo.NewShot(out)
}

// jolted is a photo during which the camera moved by so many pixels to the right.
func jolted(s *photo.Shot, by int) *photo.Shot {
	w, h := s.Size()
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for c := range 4 {
			sum := 0
			at := func(x int) int { return int(s.Full.Pix[y*s.Full.Stride+4*max(0, min(w-1, x))+c]) }
			for x := range by {
				sum += at(x)
			}
			for x := range w {
				out.Pix[y*out.Stride+4*x+c] = uint8(sum / by)
				sum += at(x+by) - at(x)
			}
		}
	}
	return photo.NewShot(out)
}

// rowScenes are letters on which nothing was tuned.
func rowScenes(t testing.TB) []demo.Scene {
	return []demo.Scene{letters(t, gomono.TTF, "m5&R"), letters(t, gomediumitalic.TTF, "a7Qg")}
}

// Of a photo that was jolted by more than lines are apart, or that shows only a part of the sheet,
// nothing is measured: it is said why, or somebody is asked.
func TestJoltedAndCutOff(t *testing.T) {
	for i, s := range rowScenes(t) {
		p := planFor(t, s, "6 x 8")
		jolt := look(t, s, p, steady(nil), phone, func(j *accuracy.Job) { j.Photo = jolted(j.Photo, 40) }).report
		if said := strings.Join(jolt.Say, " "); jolt.Measured || !strings.Contains(said, "The camera moved") {
			t.Errorf("scene %d, jolted by 40 pixels: %q", i, said)
		}
		if calm := look(t, s, p, steady(nil), phone, func(j *accuracy.Job) { j.Photo = jolted(j.Photo, 10) }).report; !calm.Measured || len(calm.Photo.Problems) > 0 {
			t.Errorf("scene %d, jolted by 10 pixels: %q", i, calm.Say)
		}
		for k, share := range []float64{0.17, 0.22} {
			h := steady(func(h *demo.Hand) { h.Erased = (i+k)%2 == 0 })
			cut := look(t, s, p, h, phone, func(j *accuracy.Job) { j.Corners, j.Photo = nil, cropped(j.Photo, share) }).report
			if cut.Measured {
				t.Errorf("scene %d, without %.0f %% of the photo: found by %s, %q", i, 100*share, cut.FoundBy, cut.Say)
			}
		}
	}
}

// ringsRound look the same the other way up.
func ringsRound() demo.Scene {
	var items []page.Item
	for i := range 6 {
		sin, cos := math.Sincos(float64(i) * math.Pi / 3)
		items = append(items, round(90+50*cos, 120+50*sin, 30, 1))
	}
	return sceneOf("Rings", items...)
}

// A drawing that looks the same the other way up is measured as it was photographed, with a word.
func TestEitherWayUp(t *testing.T) {
	s := ringsRound()
	p := planFor(t, s, "6 x 8")
	for _, s := range []demo.Scene{s, rowScenes(t)[0]} {
		either := s.Page.Title == "Rings"
		got := look(t, s, p, steady(nil), phone, func(j *accuracy.Job) { j.Corners = nil }).report
		if said := strings.Join(got.Say, " "); !got.Measured || strings.Contains(said, "the other way up") != either {
			t.Errorf("%s: %q", s.Page.Title, said)
		}
	}
}

// A drawing in tones of a picture with a dark ground is not one on dark paper; one in broad ink lines
// has no tones yet, and what is said of it is where its lines lie.
func TestTonesOfADarkPicture(t *testing.T) {
	dark := page.Color{R: 35, G: 35, B: 40}
	ground := page.Path{Points: []plane.Point{{}, plane.Pt(180, 0), plane.Pt(180, 240), plane.Pt(0, 240)}, Closed: true, Fill: &dark, Width: 0.1, Stroke: dark}
	night := plaza()
	night.Page.Items = append([]page.Item{ground}, night.Page.Items...)
	p := planFor(t, night, "6 x 8")
	tonal := func(j *accuracy.Job) { j.Tonal = true }
	if got := look(t, night, p, steady(func(h *demo.Hand) { h.Toned = true }), phone, tonal).report; !got.Tone.Judged || len(got.Next) > 0 {
		t.Errorf("toned as it should be: %q, %q", got.Tone.Why, got.Say)
	}
	for _, s := range []demo.Scene{night, plaza()} {
		got := look(t, s, p, steady(func(h *demo.Hand) {
			h.PencilWeight, h.Pencil = 2.2, page.Color{R: 20, G: 20, B: 22}
			h.Distortion = func(at plane.Point) plane.Point {
				if c, r := boxAt(p, at); c == 2 && r == 3 {
					return plane.Pt(p.Grid.SheetCell[0]/3, 0)
				}
				return plane.Point{}
			}
		}), phone, tonal).report
		if len(got.Next) == 0 || !strings.HasPrefix(got.Next[0].Words, "C4") {
			t.Errorf("in ink, C4 slipped: %q", got.Say)
		}
	}
}

// What lies in boxes that are left free, or on a landmark that is, is not spoken of; with the same
// drawing and nothing free it is.
func TestLeftFree(t *testing.T) {
	s := ringsRound()
	p := planFor(t, s, "6 x 8")
	own := otherwise(s, 0, plane.Pt(14, 0), 1) // the ring on the right
	ref := photo.NewShot(render.Pixels(s.Page, perMM, nil))
	see := func(change func(*accuracy.Job)) accuracy.Report {
		return look(t, own, p, steady(nil), phone, func(j *accuracy.Job) {
			j.Reference = ref
			change(j)
		}).report
	}
	if got := see(func(*accuracy.Job) {}); len(got.Next) == 0 {
		t.Errorf("with nothing free: %q", got.Say)
	}
	boxes, err := p.Boxes("D3 to F6")
	if err != nil {
		t.Fatal(err)
	}
	got := see(func(j *accuracy.Job) { j.Free = boxes })
	for _, a := range got.Next {
		for _, label := range a.Cells {
			if slices.Contains(boxes, label) {
				t.Errorf("free, and said: %q", a.Words)
			}
		}
	}
	if last := got.Say[len(got.Say)-1]; !strings.Contains(last, "Left free: D3, E3, F3, D4, E4, F4 and 6 more.") {
		t.Errorf("said %q; want which boxes are left free", got.Say)
	}
	letter := rowScenes(t)[1]
	line, moved := letter.Page.Items[0].(page.Path), otherwise(letter, 0, plane.Pt(10, -6), 1)
	for class, said := range map[accuracy.Class]bool{accuracy.Usual: true, accuracy.Free: false} {
		got := look(t, moved, planFor(t, letter, "6 x 8"), steady(nil), phone, func(j *accuracy.Job) {
			j.Reference = photo.NewShot(render.Pixels(letter.Page, perMM, nil))
			j.Marks = []accuracy.Landmark{{Name: "bow", Class: class, Reference: line.Points[0]}}
		}).report
		if strings.Contains(strings.Join(got.Say, " "), "“bow”") != said {
			t.Errorf("a landmark of class %q on the line that moved: %q", class, got.Say)
		}
	}
}

// round is a closed line about a place of a scene, mm; flat is how high it is beside its breadth.
func round(x, y, r, flat float64) page.Path {
	line := page.Path{Closed: true, Width: 0.9, Stroke: page.Ink}
	for k := range 60 {
		sin, cos := math.Sincos(float64(k) * math.Pi / 30)
		line.Points = append(line.Points, plane.Pt(x+r*cos, y+flat*r*sin))
	}
	return line
}

// through is a line through places of a scene, given as x and y in turn, mm.
func through(closed bool, xy ...float64) page.Path {
	line := page.Path{Closed: closed, Width: 0.9, Stroke: page.Ink}
	for i := 0; i+1 < len(xy); i += 2 {
		line.Points = append(line.Points, plane.Pt(xy[i], xy[i+1]))
	}
	return line
}

func sceneOf(title string, items ...page.Item) demo.Scene {
	return demo.Scene{Page: page.Page{Title: title, Size: measure.Size{W: 180, H: 240}, Items: items}}
}

// lantern is a lantern on a post in a frame, its head so many times as large about its middle.
func lantern(size float64) demo.Scene {
	mid := plane.Pt(90, 90)
	items := []page.Item{through(true, 8, 8, 172, 8, 172, 232, 8, 232), through(false, 60, 150, 50, 190, 30, 231), through(false, 120, 150, 130, 190, 150, 231),
		through(true, 78, 160, 102, 160, 106, 200, 74, 200), through(false, 9, 60, 30, 40, 36, 20), round(150, 30, 12, 1)}
	for _, line := range []page.Path{round(90, 90, 52, 1), round(70, 78, 9, 0.8), round(110, 78, 9, 0.8), round(90, 112, 16, 0.4), through(true, 86, 88, 94, 88, 92, 100, 88, 100)} {
		items = append(items, page.Moved(line, func(q plane.Point) plane.Point { return mid.Add(q.Sub(mid).Mul(size)) }))
	}
	return sceneOf("Lantern", items...)
}

// A head a tenth too large or small is named once, as that, and nothing is said of the frame round it,
// which is drawn exactly.
func TestLargeHead(t *testing.T) {
	whole := lantern(1)
	p := planFor(t, whole, "6 x 8")
	for _, size := range []float64{1, 1.1, 0.9} {
		got := look(t, lantern(size), p, steady(nil), phone, func(j *accuracy.Job) { j.Reference = photo.NewShot(render.Pixels(whole.Page, perMM, nil)) }).report
		switch {
		case size == 1 && len(got.Next) > 0:
			t.Errorf("of a right drawing: %q", got.Say)
		case size != 1 && (len(got.Next) != 1 || len(got.Parts) != 1 || math.Abs(got.Parts[0].Size-size) > 0.02 || got.Parts[0].Length < 15):
			t.Errorf("a head %g times as large: %q, parts %d", size, got.Say, len(got.Parts))
		}
	}
}

// A tip too high on one half is said once, whether or not the halves are compared.
func TestTipOfOneHalf(t *testing.T) {
	kite := func(up float64) demo.Scene {
		return sceneOf("Kite", through(true, 90, 60, 120, 70, 165, 40-up, 150, 110, 110, 130, 90, 200, 70, 130, 30, 110, 15, 40, 60, 70), round(90, 40, 15, 1))
	}
	p := planFor(t, kite(0), "6 x 8")
	for _, compare := range []accuracy.Compare{accuracy.Picture, accuracy.Fold} {
		got := look(t, kite(12), p, steady(nil), phone, func(j *accuracy.Job) {
			j.Reference, j.Compare = photo.NewShot(render.Pixels(kite(0).Page, perMM, nil)), compare
		}).report
		if len(got.Next) != 1 || !slices.Contains(got.Next[0].Cells, "F2") || !strings.Contains(got.Next[0].Words, "too high") {
			t.Errorf("compared %q: %q; want F2 too high, once", compare, got.Say)
		}
	}
}

// mirrored is a scene in a mirror.
func mirrored(s demo.Scene) demo.Scene {
	s.Page.Items = slices.Clone(s.Page.Items)
	for i, item := range s.Page.Items {
		s.Page.Items[i] = page.Moved(item, func(q plane.Point) plane.Point { return plane.Pt(float64(s.Page.Size.W)-q.X, q.Y) })
	}
	return s
}

// In a mirror a part is off by as much the other way, in the words too; and moved by v it is off by v.
func TestPartsInAMirror(t *testing.T) {
	whole := lantern(1)
	const item = 5 // the ring at the top right
	p := planFor(t, whole, "6 x 8")
	off := plane.Pt(-0.42, 0.2)
	drawn := otherwise(whole, item, off.Mul(30), 1)
	see := func(wanted, drawn demo.Scene) accuracy.Report {
		return look(t, drawn, p, steady(nil), phone, func(j *accuracy.Job) { j.Reference = photo.NewShot(render.Pixels(wanted.Page, perMM, nil)) }).report
	}
	straight, mirror := see(whole, drawn), see(mirrored(whole), mirrored(drawn))
	if len(straight.Parts) != 1 || len(mirror.Parts) != 1 {
		t.Fatalf("parts %d and %d; want one each: %q, %q", len(straight.Parts), len(mirror.Parts), straight.Say, mirror.Say)
	}
	if got := straight.Parts[0].Move; got.Sub(off).Len() > 0.04 {
		t.Errorf("moved by %.2f, said %.2f", off, got)
	}
	if got := mirror.Parts[0].Move; got.Sub(plane.Pt(-off.X, off.Y)).Len() > 0.04 {
		t.Errorf("in a mirror moved by %.2f; said %.2f", plane.Pt(-off.X, off.Y), got)
	}
	how := func(r accuracy.Report) string { // without the box, on whose edge the ring lies
		_, words, _ := strings.Cut(r.Next[0].Words, " sits ")
		return words
	}
	if left := how(straight); !strings.Contains(left, "too far left") || strings.ReplaceAll(left, "left", "right") != how(mirror) {
		t.Errorf("said %q, and in a mirror %q", straight.Next[0].Words, mirror.Next[0].Words)
	}
}

// A whole that is a little too large or small is told alone: a line of it that lies along a ruled one is nothing that
// the picture has not. On a finished drawing nobody begins again for it.
func TestWholeAlongARule(t *testing.T) {
	for _, s := range rowScenes(t) {
		p := planFor(t, s, "6 x 8")
		for _, size := range []float64{0.97, 1.04} {
			got := look(t, s, p, steady(func(h *demo.Hand) { h.Size = size }), phone, nil).report
			if len(got.Next) != 1 || got.Next[0].About != accuracy.AboutWhole || !strings.Contains(got.Next[0].Words, "Next time") || strings.Contains(got.Next[0].Words, "%") {
				t.Errorf("%s %g times as large: %q", s.Page.Title, size, got.Say)
			}
		}
	}
}

// Six things that the picture has not are named, whatever else is right.
func TestSixInventions(t *testing.T) {
	for _, s := range append(rowScenes(t), lantern(1)) {
		p := planFor(t, s, "6 x 8")
		more := s
		more.Page.Items = slices.Clone(s.Page.Items)
		for i := range 6 {
			more.Page.Items = append(more.Page.Items, round(20+float64(i%3)*70, 15+float64(i/3)*205, 8, 0.7))
		}
		got := look(t, more, p, steady(nil), phone, func(j *accuracy.Job) { j.Reference = photo.NewShot(render.Pixels(s.Page, perMM, nil)) }).report
		if len(got.Next) != 1 || got.Next[0].About != accuracy.AboutOther || len(got.Next[0].Cells) < 5 || !strings.Contains(got.Say[len(got.Say)-1], "Was it meant?") {
			t.Errorf("%s with six things more: %q", s.Page.Title, got.Say)
		}
	}
}

// A line that is a tenth of a box too low, within the tolerance, while all else is exact, makes no whole that leans.
func TestOneLineIsNoWhole(t *testing.T) {
	s := sceneOf("Door", through(true, 60, 60, 120, 60, 120, 180, 60, 180), through(false, 20, 30, 160, 32), through(false, 30, 211, 150, 208), round(90, 120, 20, 1))
	p := planFor(t, s, "6 x 8")
	got := look(t, s, p, steady(func(h *demo.Hand) {
		h.Distortion = func(at plane.Point) plane.Point {
			if at.Y < p.Sheet.Height*0.2 {
				return plane.Pt(0, 0.1*p.Grid.SheetCell[1])
			}
			return plane.Point{}
		}
	}), phone, nil).report
	if len(got.Next) > 0 {
		t.Errorf("said %q", got.Say)
	}
}

// A landmark goes with the part on which it lies, and is not found on a line that happens to lie where it belongs.
func TestLandmarkOnAMovedPart(t *testing.T) {
	whole := lantern(1)
	const eye = 7 // of its lines
	p := planFor(t, whole, "6 x 8")
	for _, up := range []float64{0.23, 0.35, 0.5} {
		at := plane.Pt(70, 78-9*0.8) // the highest place of the left eye
		got := look(t, otherwise(whole, eye, plane.Pt(0, -up*30), 1), p, steady(nil), phone, func(j *accuracy.Job) {
			j.Reference = photo.NewShot(render.Pixels(whole.Page, perMM, nil))
			j.Marks = []accuracy.Landmark{{Name: "Left eye", Weight: 1, Reference: at}}
		}).report
		if len(got.Landmarks) != 1 || got.Landmarks[0].Sure && math.Abs(got.Landmarks[0].Off.Y+up) > 0.08 {
			t.Errorf("an eye %g of a box too high: landmarks %+v", up, got.Landmarks)
		}
		if len(got.Next) == 0 || !strings.HasPrefix(got.Next[0].Words, "Left eye") || !strings.Contains(got.Next[0].Words, "too high") {
			t.Errorf("an eye %g of a box too high: %q", up, got.Say)
		}
	}
}
