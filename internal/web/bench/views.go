package bench

import (
	"bytes"
	"fmt"
	"html/template"
	"image"
	"image/png"
	"net/http"
	"slices"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/measure"
	core "zestysketch/internal/core/picture"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/core/sighting"
	"zestysketch/internal/intake"
	"zestysketch/internal/letters"
	"zestysketch/internal/plans"
	"zestysketch/internal/press"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// Where a new view's points stand until somebody presses them, as shares of its height, and
// how many marks there are on each at most.
const (
	guessTop, guessBottom = 0.1, 0.9
	mostMarks             = 12
	longestView           = 40
)

// viewsView is what the page of several pictures shows.
type viewsView struct {
	Project store.Project
	Rail    kit.Rail
	Views   []shownView
	Library []store.Picture
	Most    int
	lined
}

// shownView is a view with the marks on its picture.
type shownView struct {
	store.PressedView
	Marks []store.Landmark
}

// Names returns what the lines on all pictures are called, each once.
func (v viewsView) Names() (names []string) {
	for _, one := range v.Views {
		for _, m := range one.Marks {
			if !slices.Contains(names, m.Name) {
				names = append(names, m.Name)
			}
		}
	}
	return names
}

// lined is how the pictures come to one height.
type lined struct {
	Drawing template.HTML // empty until two are pressed
	Paper   string        // on which
	Words   []string
	Wait    int // views that nobody has pressed points on
	Trouble string
}

func (a area) showViews(w http.ResponseWriter, r *http.Request, p store.Project) (err error) {
	v, err := a.viewsOf(r, p)
	if err != nil {
		return err
	}
	return pages.Whole(w, r, "views.html", p.Name+" · several pictures", v)
}

func (a area) viewsOf(r *http.Request, p store.Project) (v viewsView, err error) {
	v = viewsView{Project: p, Rail: kit.NewRail(p, kit.StepPicture), Most: sighting.MostViews}
	views, err := a.Store.Views(r.Context(), p.ID)
	if err != nil {
		return v, err
	}
	marks, err := a.Store.LandmarksOfAll(r.Context(), p.ID)
	if err != nil {
		return v, err
	}
	for _, one := range views {
		v.Views = append(v.Views, shownView{one, marks[one.PictureID]})
		if !one.Pressed {
			v.Wait++
		}
	}
	if kit.Owns(r) {
		if v.Library, err = a.Store.Library(r.Context(), p.TeacherID, ""); err != nil {
			return v, err
		}
	}
	return v, a.lineUp(r, p, views, marks, &v.lined)
}

// lineUp draws the views at one height on the plan's paper, or on A3 until there is one.
func (a area) lineUp(r *http.Request, p store.Project, views []store.PressedView, marks map[uint64][]store.Landmark, l *lined) error {
	wish := sheet.Wish{Pressed: press.Pressed(views, marks)}
	if !p.Pair {
		wish.Gap = press.ViewsGap
	}
	if wish.Pressed == nil {
		return nil
	}
	plan, err := plans.Kept(r.Context(), a.Store, p)
	if err != nil {
		return err
	}
	paper := measure.Size{W: 420, H: 297}
	units, _ := kit.Habits(r)
	if plan != nil { // all of it: it is not trimmed to one picture's shape
		paper, units = plan.StockSize(), plan.Units
	}
	if paper.W < paper.H {
		paper = paper.Turned()
	}
	at, err := wish.LineUp(paper)
	if err != nil {
		l.Trouble = kit.Said(err)
		return nil
	}
	l.Words = []string{fmt.Sprintf("On %s each is %s from line to line: the top line %s from the top, the bottom line %s.",
		paper.Text(units), (at.Bottom - at.Top).Text(units), at.Top.Text(units), at.Bottom.Text(units))}
	for _, m := range at.Misfits {
		l.Words = append(l.Words, sheet.SayMisfit(m, units))
	}
	pg, err := wish.PressedViews(paper)
	if err != nil {
		return err
	}
	pg.Title = fmt.Sprintf("%d pictures at one height", len(wish.Pressed))
	l.Drawing, err = kit.InlineSVG(pg, func(name string) string {
		i := slices.IndexFunc(views, func(v store.PressedView) bool { return press.OnPages(v.PictureID) == name })
		return kit.PicturePath(views[i].PictureID, store.View)
	})
	return err
}

// addView takes another picture in, of the library or a new one.
func (a area) addView(w http.ResponseWriter, r *http.Request, p store.Project) (err error) {
	views, err := a.Store.Views(r.Context(), p.ID)
	if err != nil {
		return err
	}
	if len(views) >= sighting.MostViews {
		return kit.Ask("There are %d pictures already. Take one away first.", sighting.MostViews)
	}
	picture, _, err := a.chosenPicture(r)
	if err != nil {
		return err
	}
	if r.FormValue("cut") != "" {
		return a.cutSlide(w, r, p, picture, sighting.MostViews-len(views))
	}
	if len(views) == 0 && p.Picture != nil && p.Picture.ID != picture.ID { // the project's own is the first
		if err := a.keepView(r, p, *p.Picture, p.Picture.Name, nil); err != nil {
			return err
		}
	}
	if err := a.keepView(r, p, picture, picture.Name, nil); err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(p)+"/views")
}

// keepView takes a picture in as a view, with its top and bottom where they are seen, else where somebody is to press them.
func (a area) keepView(r *http.Request, p store.Project, picture store.Picture, name string, seen *[2]float64) error {
	if err := a.Store.OfferPicture(r.Context(), p.TeacherID, p.ID, picture.ID); err != nil {
		return err
	}
	high, middle := float64(picture.Height), float64(picture.Width)/2
	at := [2]float64{guessTop * high, guessBottom * high}
	if seen != nil {
		at = *seen
	}
	return a.Store.KeepPressed(r.Context(), &store.PressedView{ProjectID: p.ID, PictureID: picture.ID, Name: letters.Cut(name, longestView), Pressed: seen != nil,
		TopX: middle, TopY: at[0], BottomX: middle, BottomY: at[1]})
}

// slideRim is what stays round a view that is cut out of a slide, as a share of its height.
const slideRim = 0.03

// cutSlide cuts a picture of several views side by side into them: each is a picture of its own, its top and bottom pressed.
func (a area) cutSlide(w http.ResponseWriter, r *http.Request, p store.Project, slide store.Picture, most int) error {
	file, err := a.Store.PictureFile(r.Context(), p.TeacherID, slide.ID, store.Full)
	if err != nil {
		return err
	}
	type part struct {
		png  []byte
		seen [2]float64
	}
	var parts []part
	err = intake.Use(r.Context(), file.Bytes, func(img *image.RGBA) error {
		boxes := core.Apart(img)
		if len(boxes) < sighting.FewestViews || len(boxes) > most {
			return kit.Ask("Wanted %d to %d views side by side on a plain ground in “%s”, got %d. Cut it apart yourself, or add it whole.", sighting.FewestViews, most, slide.Name, len(boxes))
		}
		for _, b := range boxes {
			rim := max(1, int(slideRim*float64(b.Dy())))
			out := b.Inset(-rim).Intersect(img.Rect)
			var cut bytes.Buffer
			if err := png.Encode(&cut, img.SubImage(out)); err != nil {
				return err
			}
			parts = append(parts, part{cut.Bytes(), [2]float64{float64(b.Min.Y - out.Min.Y), float64(b.Max.Y - out.Min.Y)}})
		}
		return nil
	})
	if err != nil {
		return err
	}
	for i, one := range parts {
		name := fmt.Sprintf("%s %d", slide.Name, i+1)
		if names := p.EffectiveRoad().Parts; len(names) == len(parts) {
			name = names[i]
		}
		picture, files, err := intake.Take(r.Context(), name+".png", one.png, store.ForReference)
		if err != nil {
			return err
		}
		picture.TeacherID = kit.Owner(r)
		if err := a.Store.AddPicture(r.Context(), &picture, files); err != nil {
			return err
		}
		if err := a.keepView(r, p, picture, name, &one.seen); err != nil {
			return err
		}
	}
	return kit.Go(w, r, kit.ProjectPath(p)+"/views")
}

// setPair hangs the pictures edge to edge, or apart.
func (a area) setPair(w http.ResponseWriter, r *http.Request, p store.Project) error {
	if err := a.Store.SetPair(r.Context(), p.TeacherID, p.ID, r.FormValue("pair") != ""); err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(p)+"/views")
}

// postedView returns the project and view of the address.
func (a area) postedView(r *http.Request) (p store.Project, v store.PressedView, err error) {
	if p, err = a.Project(r); err != nil {
		return p, v, err
	}
	id, err := kit.ID(r, "view")
	if err != nil {
		return p, v, err
	}
	v, err = a.Store.View(r.Context(), p.ID, id)
	return p, v, err
}

// changeView keeps a view's name and the points pressed on it, or takes it away.
func (a area) changeView(w http.ResponseWriter, r *http.Request, p store.Project, v store.PressedView) (err error) {
	if r.FormValue("remove") != "" {
		if err := a.Store.RemoveView(r.Context(), p.ID, v.ID); err != nil {
			return err
		}
		return kit.Go(w, r, kit.ProjectPath(p)+"/views")
	}
	if name := kit.Tidy(r.FormValue("name")); name != "" {
		if len([]rune(name)) > longestView {
			return kit.AskAt("name", "Write a shorter name, of at most %d letters.", longestView)
		}
		v.Name = name
	}
	for _, at := range []struct {
		field, words string
		x, y         *float64
	}{{"top", "top", &v.TopX, &v.TopY}, {"bottom", "bottom", &v.BottomX, &v.BottomY}} {
		if r.FormValue(at.field) == "" {
			continue
		}
		if *at.x, *at.y, err = placeOn(v.Picture, r.FormValue(at.field), "the "+at.words+" of "+v.Name); err != nil {
			return err
		}
		v.Pressed = true
	}
	if v.BottomY < v.TopY {
		v.TopX, v.TopY, v.BottomX, v.BottomY = v.BottomX, v.BottomY, v.TopX, v.TopY
	}
	if err := a.Store.KeepPressed(r.Context(), &v); err != nil {
		return err
	}
	return a.linedAgain(w, r, p)
}

// placeOn reads a place on a picture, in its pixels.
func placeOn(pic *store.Picture, text, what string) (x, y float64, err error) {
	at, err := accuracy.ParsePlace(text)
	if err != nil || at.X < 0 || at.Y < 0 || at.X > float64(pic.Width) || at.Y > float64(pic.Height) {
		return 0, 0, kit.Ask("Press %s on the picture, not beside it.", what)
	}
	return at.X, at.Y, nil
}

// markView sets, moves or takes away a mark on a view's picture: a landmark of it.
func (a area) markView(w http.ResponseWriter, r *http.Request, p store.Project, v store.PressedView) (err error) {
	name := kit.Tidy(r.FormValue("name"))
	if name == "" || len([]rune(name)) > longestView {
		return kit.AskAt("name", "Give the line a name, of at most %d letters: the rim, the handle.", longestView)
	}
	all, err := a.Store.LandmarksOfAll(r.Context(), p.ID)
	if err != nil {
		return err
	}
	marks := all[v.PictureID]
	i := slices.IndexFunc(marks, func(m store.Landmark) bool { return m.Name == name })
	switch {
	case r.FormValue("remove") != "" && i >= 0:
		err = a.Store.RemoveLandmark(r.Context(), p.ID, marks[i].ID)
	case r.FormValue("remove") != "":
	case i < 0 && len(marks) >= mostMarks:
		return kit.Ask("There are %d marks on this picture already. Remove one that matters less.", mostMarks)
	case i < 0:
		err = a.Store.AddLandmark(r.Context(), &store.Landmark{ProjectID: p.ID, PictureID: &v.PictureID, Name: name, Weight: 1, X: (v.TopX + v.BottomX) / 2, Y: (v.TopY + v.BottomY) / 2})
	default:
		m := marks[i]
		if m.X, m.Y, err = placeOn(v.Picture, r.FormValue("place"), name); err == nil {
			err = a.Store.ChangeLandmark(r.Context(), m)
		}
	}
	if err != nil {
		return err
	}
	if r.FormValue("place") == "" { // there is a handle more or less
		return kit.Go(w, r, kit.ProjectPath(p)+"/views")
	}
	return a.linedAgain(w, r, p)
}

// linedAgain answers a moved point with how the pictures come to one height now.
func (a area) linedAgain(w http.ResponseWriter, r *http.Request, p store.Project) error {
	if !kit.IsFragment(r) {
		return kit.Go(w, r, kit.ProjectPath(p)+"/views")
	}
	v, err := a.viewsOf(r, p)
	if err != nil {
		return err
	}
	return pages.Part(w, r, "views.html", "lined", http.StatusOK, v)
}
