package archive

import (
	"archive/zip"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"slices"
	"strings"
	"unicode/utf8"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/intake"
	"zestysketch/internal/letters"
	"zestysketch/internal/plans"
	"zestysketch/internal/store"
)

// file is a project file whose words were read and found right.
type file struct {
	about
	plan  *grid.Plan // nil without one
	parts map[string]*zip.File
}

// Take makes a project of a teacher's from a file of size bytes, for no class; all
// of it or nothing. Pictures are decoded and kept as any other. Choices of pages
// whose names the teacher has already stay theirs. Errors of the file wrap ErrFile.
func Take(ctx context.Context, s *store.Store, teacher uint64, r io.ReaderAt, size int64) (p store.Project, err error) {
	f, err := open(r, size)
	if err != nil {
		return p, err
	}
	err = s.Transaction(ctx, func(s *store.Store) error {
		p, err = f.keep(ctx, s, teacher)
		return err
	})
	return p, err
}

func bad(format string, args ...any) error {
	return fmt.Errorf("%w: "+format, append([]any{ErrFile}, args...)...)
}

// open reads and checks all of a file but its pictures.
func open(r io.ReaderAt, size int64) (f file, err error) {
	if size > MostBytes {
		return f, bad("it is larger than %d MB", MostBytes>>20)
	}
	b := &budget{r, mostIndex}
	z, err := zip.NewReader(b, size)
	if err != nil {
		return f, bad("wanted a ZIP that ends in .%s (%v)", Ending, err)
	}
	b.left = -1
	f.parts = map[string]*zip.File{}
	for _, part := range z.File {
		if _, twice := f.parts[part.Name]; twice {
			return f, bad("it has %q twice", shorten(part.Name))
		}
		f.parts[part.Name] = part
	}
	words, err := f.read(aboutFile, mostWords)
	if err != nil {
		return f, err
	}
	if err := json.Unmarshal(words, &f.about); err != nil {
		return f, bad("%s is damaged (%v)", aboutFile, err)
	}
	if f.Format != Format {
		return f, bad("wanted a file whose format is %s, got %q; a newer program may read it", Format, shorten(f.Format))
	}
	if err := f.check(); err != nil {
		return f, err
	}
	return f, f.readPlan()
}

// read returns a part of the file by its exact name, of so many bytes at most. What
// a part says of its own size is not believed.
func (f file) read(name string, most int64) ([]byte, error) {
	part, there := f.parts[name]
	if !there {
		return nil, bad("%q is missing in it", shorten(name))
	}
	in, err := part.Open()
	if err != nil {
		return nil, bad("%q cannot be read (%v)", shorten(name), err)
	}
	defer in.Close()
	b, err := io.ReadAll(io.LimitReader(in, most+1))
	if err != nil {
		return nil, bad("%q is damaged (%v)", shorten(name), err)
	}
	if int64(len(b)) > most {
		return nil, bad("%q is larger than %d MB", shorten(name), most>>20)
	}
	return b, nil
}

// readPlan reads the plan, if there is one.
func (f *file) readPlan() error {
	if _, there := f.parts[planFile]; !there {
		return nil
	}
	b, err := f.read(planFile, mostWords)
	if err != nil {
		return err
	}
	plan, err := grid.Decode(b)
	if err != nil {
		return bad("its plan cannot be used: %v", err)
	}
	plan.Name, plan.Typed.Name = f.Name, f.Name
	f.plan = &plan
	return nil
}

// checkPictures says what of the pictures cannot be kept, and adds their names to those to check.
func (f *file) checkPictures(names *[]text) error {
	frames, mains := 0, 0
	for i := range f.Pictures {
		p := &f.Pictures[i]
		*names = append(*names, text{&p.Name, longestName, "a picture's name"})
		if frames += len(p.Frames); frames > mostFrames || len(p.Landmarks) > mostLandmarks {
			return bad("wanted at most %d frames, and %d landmarks of a picture", mostFrames, mostLandmarks)
		}
		if p.Main {
			mains++
		}
		if p.Tags = letters.Tidy(p.Tags); utf8.RuneCountInString(p.Tags) > longestTags || p.Difficulty < 0 || p.Difficulty > 3 {
			return bad("what is said of picture %d cannot be kept: at most %d letters of tags, and a difficulty of 0 to 3", i+1, longestTags)
		}
		for k := range p.Frames {
			*names = append(*names, text{&p.Frames[k].Name, 40, "a frame's name"})
		}
		for k := range p.Landmarks {
			*names = append(*names, text{&p.Landmarks[k].Name, 40, "a landmark's name"})
		}
	}
	if mains > 1 || mains == 0 && len(f.Pictures) > 0 {
		return bad("one of its pictures is the main one, got %d", mains)
	}
	return nil
}

// check says what of project.json cannot be kept, and puts its names in order.
func (f *file) check() error {
	f.Name = letters.Tidy(f.Name)
	names := []text{{&f.Name, longestTitle, "the project's name"}}
	switch {
	case !slices.Contains(accuracy.Loosenesses, f.Looseness):
		return bad("looseness is exact, normal or loose, got %q", shorten(string(f.Looseness)))
	case !slices.Contains(accuracy.Comparisons, f.Compare):
		return bad("compare is empty, fold, turn or views, got %q", shorten(string(f.Compare)))
	case len(f.Free) > longestFree || strings.Trim(f.Free, freeLetters) != "":
		return bad("free_boxes is boxes with spaces between, such as A1 B2, got %q", shorten(f.Free))
	case len(f.Pictures) > mostPictures || len(f.PrintSets) > mostSets:
		return bad("wanted at most %d pictures and %d choices of pages, got %d and %d", mostPictures, mostSets, len(f.Pictures), len(f.PrintSets))
	}
	if f.Road != nil {
		road, err := f.Road.Check()
		if err != nil {
			return bad("its road cannot be gone: %v", err)
		}
		f.Road = &road
	}
	if err := f.checkPictures(&names); err != nil {
		return err
	}
	for i := range f.PrintSets {
		set := &f.PrintSets[i]
		names = append(names, text{&set.Name, 40, "the name of a choice of pages"})
		spec, err := general(set.Spec).Check()
		if err != nil {
			return bad("a choice of pages: %v", err)
		}
		set.Spec = spec
	}
	for _, t := range names {
		if err := t.check(); err != nil {
			return err
		}
	}
	return nil
}

// text is something named, with how many letters that may have.
type text struct {
	value *string
	most  int
	what  string
}

func (t text) check() error {
	*t.value = letters.Tidy(*t.value)
	if *t.value == "" || utf8.RuneCountInString(*t.value) > t.most {
		return bad("%s has 1 to %d letters, got %q", t.what, t.most, shorten(*t.value))
	}
	return nil
}

func shorten(s string) string {
	if r := []rune(s); len(r) > 40 {
		return string(r[:40]) + "…"
	}
	return s
}

// keep makes the project.
func (f file) keep(ctx context.Context, s *store.Store, teacher uint64) (store.Project, error) {
	p := store.Project{TeacherID: teacher, Name: f.Name, Looseness: f.Looseness, Compare: f.Compare, FreeBoxes: f.Free, Road: f.Road}
	if err := s.AddProject(ctx, &p); err != nil {
		return p, err
	}
	for i, one := range f.Pictures {
		pic, err := f.keepPicture(ctx, s, p, one)
		if errors.Is(err, ErrFile) || err != nil && !picture.Unreadable(err) {
			return p, err
		}
		if err != nil {
			return p, bad("picture %d, “%s”: %v", i+1, one.Name, err)
		}
		if one.Main {
			p.PictureID, p.Picture = &pic.ID, &pic
		}
	}
	if p.Picture != nil {
		if err := s.SetPicture(ctx, teacher, p.ID, p.Picture.ID); err != nil {
			return p, err
		}
	}
	if err := f.keepSets(ctx, s, teacher); err != nil || f.plan == nil {
		return p, err
	}
	plan, err := plans.Fitted(*f.plan, p.Picture)
	if err != nil {
		return p, bad("its plan was made for another picture: %v", err)
	}
	_, err = plans.Keep(ctx, s, p, 0, plan)
	return p, err
}

// keepPicture takes one picture in, with its frames and landmarks.
func (f file) keepPicture(ctx context.Context, s *store.Store, p store.Project, one pictured) (pic store.Picture, err error) {
	b, err := f.read(one.File, picture.MaxBytes)
	if err != nil {
		return pic, err
	}
	pic, files, err := intake.Take(ctx, one.Name, b, store.ForReference)
	if err != nil {
		return pic, err
	}
	pic.TeacherID, pic.Name, pic.Tags, pic.Difficulty = p.TeacherID, one.Name, one.Tags, one.Difficulty
	if err := s.AddPicture(ctx, &pic, files); err != nil {
		return pic, err
	}
	if err := s.OfferPicture(ctx, p.TeacherID, p.ID, pic.ID); err != nil {
		return pic, err
	}
	for _, fr := range one.Frames {
		asked, err := grid.Request{Picture: pic.Pixels(), Frame: fr.Frame}.AskedFrame()
		if err != nil {
			return pic, bad("its frame “%s” does not lie in the picture", fr.Name)
		}
		if err := s.AddFrame(ctx, p.TeacherID, &store.Frame{ProjectID: p.ID, PictureID: pic.ID, Name: fr.Name, Frame: asked.String()}); err != nil {
			return pic, err
		}
	}
	for _, l := range one.Landmarks {
		if err := l.check(pic); err != nil {
			return pic, err
		}
		if err := s.AddLandmark(ctx, &store.Landmark{ProjectID: p.ID, PictureID: &pic.ID, Name: l.Name, Weight: l.Weight, Class: l.Class, X: l.X, Y: l.Y}); err != nil {
			return pic, err
		}
	}
	return pic, nil
}

// check says what of a landmark cannot be: it lies on its picture.
func (l landmark) check(pic store.Picture) error {
	within := func(v float64, most int) bool { return !math.IsNaN(v) && v >= 0 && v <= float64(most) }
	known := l.Class == accuracy.Usual || l.Class == accuracy.Critical || l.Class == accuracy.Free
	if !known || l.Weight < 1 || l.Weight > 3 || !within(l.X, pic.Width) || !within(l.Y, pic.Height) {
		return bad("its landmark “%s” has no weight of 1 to 3, or does not lie on the picture", l.Name)
	}
	return nil
}

// keepSets keeps the choices of pages whose names are free.
func (f file) keepSets(ctx context.Context, s *store.Store, teacher uint64) error {
	have, err := s.PrintSets(ctx, teacher)
	if err != nil {
		return err
	}
	for _, set := range f.PrintSets {
		if len(have) >= mostSets || slices.ContainsFunc(have, func(h store.PrintSet) bool { return h.Name == set.Name }) {
			continue
		}
		one := store.PrintSet{TeacherID: teacher, Name: set.Name, Spec: set.Spec.JSON()}
		if err := s.AddPrintSet(ctx, &one); err != nil {
			return err
		}
		have = append(have, one)
	}
	return nil
}
