package press

import (
	"bytes"
	"cmp"
	"context"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"slices"
	"strings"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/reading"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/core/sighting"
	"zestysketch/internal/intake"
	"zestysketch/internal/plans"
	"zestysketch/internal/render"
	"zestysketch/internal/store"
)

// Set is a project's class and all that its pages need.
type Set struct {
	Project   store.Project
	Class     grid.Plan
	Own       func(student uint64) (grid.Plan, *store.Picture)
	Printer   page.Printer
	Frames    []grid.Frame
	Landmarks []store.Landmark                                          // the weightiest first
	Views     []store.PressedView                                       // pictures that are brought to one height
	Marks     map[uint64][]store.Landmark                               // the landmarks on them, by picture
	Link      func(ctx context.Context, student uint64) (string, error) // nil makes none
	Look      func(picture uint64, look func(*image.RGBA) error) error  // at a picture's pixels; nil at none
	Empty     func(p grid.Plan, pic *store.Picture) ([]string, error)   // the boxes with nothing in them; nil asks nobody
	Read      func(p grid.Plan, pic *store.Picture) ([]reading.Box, error)
	reduced   map[string]sheet.Reduced
}

// Made is a set in pages, with what its pictures are called.
type Made struct {
	Pages    []page.Page
	Left     []string          // who, or which kind of page, was left out, and why
	Pictures map[uint64]string // pictures in use, by number: their names on the pages
	Grey     bool
}

// Sample makes one set without a name, to be looked at.
func (s Set) Sample(spec Spec) (Made, error) {
	made := Made{Pictures: map[uint64]string{}, Grey: spec.Grey}
	w, err := s.wish(spec)
	if err != nil {
		return made, err
	}
	parts := []Spec{spec}
	if spec.Share != sheet.Alone { // what the class has in common shares no sheet with a student's
		parts = []Spec{ofClass(spec), perStudent(spec)}
	}
	for _, part := range parts {
		pages, err := s.one(part, w, s.Project.Picture, &made, nil)
		if err != nil {
			return made, err
		}
		made.Pages = append(made.Pages, pages...)
	}
	return made, nil
}

// Make makes the sets of everyone chosen. Students without a picture, or whose
// pages do not fit, are left out by name; progress is called after each and
// ends the work with its error. It is an error if nobody is left.
func (s Set) Make(ctx context.Context, spec Spec, progress func(done, total int) error) (Made, error) {
	made := Made{Pictures: map[uint64]string{}, Grey: spec.Grey}
	students := s.chosen(spec)
	total := len(students) + spec.Spare
	var sets [][]page.Page
	for i, student := range students {
		pages, err := s.student(ctx, spec, student, &made)
		switch {
		case errors.Is(err, page.ErrPaper) || errors.Is(err, ErrNoPicture) || errors.Is(err, plans.ErrPicture):
			made.Left = append(made.Left, student.Name+": "+err.Error())
		case err != nil:
			return made, err
		default:
			sets = append(sets, pages)
		}
		if err := progress(i+1, total); err != nil {
			return made, err
		}
	}
	for i := range spec.Spare {
		sample, err := s.Sample(perStudent(spec))
		if err != nil {
			return made, err
		}
		for number, name := range sample.Pictures {
			made.Pictures[number] = name
		}
		sets = append(sets, sample.Pages)
		if err := progress(len(students)+i+1, total); err != nil {
			return made, err
		}
	}
	once, err := s.once(spec, students, &made)
	if err != nil {
		return made, err
	}
	if once != nil {
		sets = append([][]page.Page{once}, sets...)
	}
	made.Pages = sheet.Bind(slices.DeleteFunc(sets, func(set []page.Page) bool { return len(set) == 0 }), sheet.Binding{ByPage: spec.ByPage, Duplex: spec.Duplex})
	if len(made.Pages) == 0 {
		return made, fmt.Errorf("%w: nothing is left to print. %s", ErrSpec, strings.Join(made.Left, "; "))
	}
	return made, nil
}

// ErrNoPicture is the error of pages that show a picture where there is none.
var ErrNoPicture = errors.New("has no picture yet")

func (s Set) chosen(spec Spec) (students []store.Student) {
	if s.Project.Class == nil {
		return nil
	}
	for _, student := range s.Project.Class.Students {
		if spec.Everyone || slices.Contains(spec.Students, student.ID) {
			students = append(students, student)
		}
	}
	return students
}

// perStudent drops the kinds that are made once for the class.
func perStudent(spec Spec) Spec {
	spec.Kinds = slices.DeleteFunc(slices.Clone(spec.Kinds), func(k page.Kind) bool {
		a, _ := sheet.KindNamed(k)
		return a.Once
	})
	return spec
}

// ofClass keeps the kinds that are made once for the class.
func ofClass(spec Spec) Spec {
	spec.Kinds = slices.DeleteFunc(slices.Clone(spec.Kinds), func(k page.Kind) bool {
		a, _ := sheet.KindNamed(k)
		return !a.Once
	})
	return spec
}

// needed puts the dot sheet in the drawing sheet's place, or beside the others, for a student
// who needs it.
func needed(spec Spec, student store.Student) Spec {
	if !student.Has(store.NeedDots) || slices.Contains(spec.Kinds, sheet.KindDots) {
		return spec
	}
	spec.Kinds = slices.DeleteFunc(slices.Clone(spec.Kinds), func(k page.Kind) bool { return k == sheet.KindSheet })
	spec.Kinds = append(spec.Kinds, sheet.KindDots)
	return spec
}

// once makes the pages that the class has in common.
func (s Set) once(spec Spec, students []store.Student, made *Made) ([]page.Page, error) {
	mine := ofClass(spec)
	if len(mine.Kinds) == 0 {
		return nil, nil
	}
	w, err := s.wish(mine)
	if err != nil {
		return nil, err
	}
	w.Class = nil
	for _, student := range students {
		w.Class = append(w.Class, s.who(student))
	}
	return s.one(mine, w, s.Project.Picture, made, nil)
}

func (s Set) who(student store.Student) sheet.Who {
	return sheet.Who{Name: student.Name, Class: s.Project.Class.Name, Project: s.Project.ID, Student: student.ID}
}

// student makes one student's pages by their own plan, picture, hand and units.
func (s Set) student(ctx context.Context, spec Spec, student store.Student, made *Made) ([]page.Page, error) {
	w, err := s.wish(perStudent(spec))
	if err != nil {
		return nil, err
	}
	plan, pic := s.Own(student.ID)
	if err := plans.Fits(plan, pic); err != nil {
		return nil, err
	}
	w.Plan, w.Who = plan, s.who(student)
	if student.Hand == grid.LeftHand {
		w.Plan.Hand = grid.LeftHand
	}
	if student.Units != "" {
		w.Units = measure.Unit(student.Units)
	}
	link := func() (string, error) {
		if s.Link == nil || spec.Base == "" {
			return "", nil
		}
		secret, err := s.Link(ctx, student.ID)
		return spec.Base + "/s/" + secret, err
	}
	mine := perStudent(spec)
	if pic != nil {
		mine = needed(mine, student)
	}
	return s.one(mine, w, pic, made, link)
}

// OnPages is what a picture is called on pages.
func OnPages(picture uint64) string { return fmt.Sprintf("picture %d", picture) }

// one makes the pages of one wish, as they share sheets, and notes the pictures they use and what was left out.
func (s Set) one(spec Spec, w sheet.Wish, pic *store.Picture, made *Made, link func() (string, error)) ([]page.Page, error) {
	pages, err := s.kinds(spec, w, pic, made, link)
	if err != nil {
		return nil, err
	}
	size, err := spec.Size()
	if err != nil {
		return nil, err
	}
	return sheet.Impose(pages, spec.Share, size), nil
}

// kinds makes the pages of one wish, kind by kind, and notes the pictures they use. A kind that does not fit the paper is
// left out, where others fit.
func (s Set) kinds(spec Spec, w sheet.Wish, pic *store.Picture, made *Made, link func() (string, error)) (pages []page.Page, err error) {
	var refused error
	var left []string
	if pic != nil {
		w.Picture = OnPages(pic.ID)
	}
	other := pic == nil || s.Project.PictureID == nil || *s.Project.PictureID != pic.ID
	if !other { // landmarks are of the project's own picture
		w.Pins = PinsOn(w.Plan, s.Landmarks)
	}
	for _, k := range spec.Kinds {
		if err := s.look(k, spec, &w, pic, link); err != nil {
			return nil, err
		}
		if k == sheet.KindPoints && other {
			continue // nobody has pressed points on a picture of a student's own
		}
		of, err := sheet.Pages(k, w)
		if errors.Is(err, page.ErrPaper) {
			refused = cmp.Or(refused, err)
			about, _ := sheet.KindNamed(k)
			words := about.Name + ": " + err.Error()
			if other && w.Who.Name != "" { // it is this student's picture that does not fit
				words = w.Who.Name + ", " + words
			}
			left = append(left, words)
			continue
		}
		if err != nil {
			return nil, err
		}
		pages = append(pages, of...)
	}
	if len(pages) == 0 && refused != nil {
		return nil, refused
	}
	made.leave(left)
	s.note(pages, w, pic, made.Pictures)
	return pages, nil
}

// leave notes kinds of pages that were left out, each reason once.
func (m *Made) leave(kinds []string) {
	for _, words := range kinds {
		if !slices.Contains(m.Left, words) {
			m.Left = append(m.Left, words)
		}
	}
}

// look adds to a wish what pages of a kind need: a link, the empty boxes, what boxes hold.
func (s Set) look(k page.Kind, spec Spec, w *sheet.Wish, pic *store.Picture, link func() (string, error)) (err error) {
	reads := sheet.Reads(k, w.Help)
	if pic == nil && (reads || slices.Contains([]page.Kind{sheet.KindReference, sheet.KindClean, sheet.KindCards}, k)) {
		return ErrNoPicture
	}
	if k == sheet.KindCover && link != nil {
		w.Who.Link, err = link()
	}
	if err == nil && k == sheet.KindCards && !spec.AllBoxes && s.Empty != nil {
		w.Empty, err = s.Empty(w.Plan, pic)
	}
	if err == nil {
		err = s.reduce(k, w, pic)
	}
	if err == nil && w.Boxes == nil && s.Read != nil && reads {
		w.Boxes, err = s.Read(w.Plan, pic)
	}
	return err
}

// note writes down the pictures that pages use.
func (s Set) note(pages []page.Page, w sheet.Wish, pic *store.Picture, pictures map[uint64]string) {
	named := map[string]uint64{}
	if pic != nil {
		named[w.Picture] = pic.ID
	}
	for _, v := range s.Views {
		named[OnPages(v.PictureID)] = v.PictureID
	}
	for _, p := range pages {
		for _, item := range p.Items {
			if v, ok := item.(page.Picture); ok {
				name := strings.TrimSuffix(v.Name, sheet.GreyOf(""))
				if id, known := named[name]; known {
					pictures[id] = name
				}
			}
		}
	}
}

// LandmarkNames returns what the landmarks are called, the weightiest first.
func (s Set) LandmarkNames() (names []string) {
	for _, m := range s.Landmarks {
		names = append(names, m.Name)
	}
	return names
}

// PinsOn returns the landmarks that a plan shows, as they lie on its printed picture.
func PinsOn(p grid.Plan, marks []store.Landmark) (pins []reading.Pin) {
	if p.Frame == nil {
		return nil
	}
	for _, m := range marks {
		at := p.FromPicture(plane.Pt(m.X, m.Y))
		if at.X >= 0 && at.Y >= 0 && at.X <= p.Reference.Width && at.Y <= p.Reference.Height {
			pins = append(pins, reading.Pin{Name: m.Name, At: at, Weight: float64(m.Weight)})
		}
	}
	return pins
}

// wish is what all pages of a spec have in common.
func (s Set) wish(spec Spec) (sheet.Wish, error) {
	w := sheet.Wish{Plan: s.Class, Printer: s.Printer, Grey: spec.Grey, UpsideDown: spec.UpsideDown, Mirrored: spec.Mirrored, Faded: spec.Faded,
		MarksOnly: spec.MarksOnly, LevelFold: s.Project.Compare == accuracy.LevelFold, Help: reading.Help(spec.Help), Views: spec.Views, Round: spec.Round,
		Landmarks: s.LandmarkNames(), Road: s.Project.EffectiveRoad(),
		Class: []sheet.Who{{Name: "Name", Project: s.Project.ID}}}
	if w.Pressed = Pressed(s.Views, s.Marks); !s.Project.Pair {
		w.Gap = ViewsGap
	}
	if strings.TrimSpace(spec.Solid) == "" {
		return w, nil
	}
	size, err := measure.ParseSize(spec.Solid, s.Class.Units)
	if err != nil || size.W <= 0 || size.H <= 0 {
		return w, fmt.Errorf("%w: wanted the solid's width × height, such as 6 × 10 cm, got %q", ErrSpec, spec.Solid)
	}
	w.Solid = sighting.Solid{Width: size.W, Height: size.H, Depth: size.W}
	if strings.TrimSpace(spec.Depth) != "" {
		if w.Solid.Depth, err = measure.Parse(spec.Depth, s.Class.Units); err != nil || w.Solid.Depth <= 0 {
			return w, fmt.Errorf("%w: wanted the solid's depth, such as 4 cm, got %q", ErrSpec, spec.Depth)
		}
	}
	return w, nil
}

// ViewsGap is how far views stand apart that do not hang together.
const ViewsGap measure.Length = 12

// Pressed returns the views whose points somebody pressed, to be brought to one height; none
// where they are too few to be lined up.
func Pressed(views []store.PressedView, marks map[uint64][]store.Landmark) (all []sheet.View) {
	for _, v := range views {
		if !v.Pressed || v.Picture == nil {
			continue
		}
		one := sheet.View{File: OnPages(v.PictureID), Pictured: sighting.Pictured{Name: v.Name, Width: float64(v.Picture.Width), Height: float64(v.Picture.Height), Top: v.TopY, Bottom: v.BottomY}}
		for _, m := range marks[v.PictureID] {
			one.Marks = append(one.Marks, sighting.PixelMark{Name: m.Name, Down: m.Y})
		}
		all = append(all, one)
	}
	if len(all) < sighting.FewestViews {
		return nil
	}
	return all
}

// Files fetches the pictures that a set uses, whole or for the screen, grey
// where the pages want them so.
func Files(ctx context.Context, s *store.Store, teacher uint64, made Made, role store.Role) (render.Pictures, error) {
	files := render.Pictures{}
	for id, name := range made.Pictures {
		f, err := s.PictureFile(ctx, teacher, id, role)
		if err != nil {
			return nil, err
		}
		if !made.Grey {
			files[name] = f.Bytes
			continue
		}
		if files[sheet.GreyOf(name)], err = grey(ctx, f.Bytes); err != nil {
			return nil, err
		}
	}
	return files, nil
}

// grey returns an encoded picture without colour, as JPEG.
func grey(ctx context.Context, b []byte) ([]byte, error) {
	var jpg bytes.Buffer
	err := intake.Use(ctx, b, func(img *image.RGBA) error {
		return jpeg.Encode(&jpg, Grey(img), &jpeg.Options{Quality: 90})
	})
	return jpg.Bytes(), err
}

// Grey returns a picture without colour.
func Grey(img *image.RGBA) *image.Gray {
	out := image.NewGray(img.Rect)
	for y := range img.Rect.Dy() {
		row := img.Pix[y*img.Stride:]
		for x := range img.Rect.Dx() {
			out.Pix[y*out.Stride+x] = color.GrayModel.Convert(color.RGBA{row[4*x], row[4*x+1], row[4*x+2], 255}).(color.Gray).Y
		}
	}
	return out
}
