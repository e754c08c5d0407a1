package bench

import (
	"bytes"
	"cmp"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/intake"
	"zestysketch/internal/plans"
	"zestysketch/internal/starters"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// start is what the page for a new project shows.
type start struct {
	Classes  []store.Class
	Library  []store.Picture
	Starters []starters.Picture
	From     string // the picture that is chosen already
	Ways     []lesson.Way
	Roads    []store.OwnRoad // the teacher's own
	Way      wayChosen
}

// wayChosen is the way of working that a new project will have.
type wayChosen struct {
	Road string // as the form says it
	Name string // empty while no picture is chosen from which to propose one
	Why  string
}

const longestTitle = 80

// shownLibrary is how many of the library's newest a new project offers.
const shownLibrary = 8

// fromStarters begins the number of a picture that is chosen from the starters.
const fromStarters = "starter-"

// proposed is what a form says where the picture shall decide how it is drawn.
const proposed = "proposed"

func (a area) askNew(w http.ResponseWriter, r *http.Request) error {
	classes, err := a.Store.Classes(r.Context(), kit.Owner(r))
	if err != nil {
		return err
	}
	library, err := a.Store.Library(r.Context(), kit.Owner(r), "")
	if err != nil {
		return err
	}
	roads, err := a.Store.OwnRoads(r.Context(), kit.Owner(r))
	if err != nil {
		return err
	}
	road := proposed
	if way := r.URL.Query().Get("way"); way != "" {
		road = "way-" + way
	}
	chosen, err := a.wayChosen(r, road)
	if err != nil {
		return err
	}
	return pages.Whole(w, r, "new.html", "New project", start{classes, library[:min(len(library), shownLibrary)], starters.All(), r.FormValue("from"), lesson.Ways(), roads, chosen})
}

// askWay answers with the way of working that is chosen, or proposed for the picture that is.
func (a area) askWay(w http.ResponseWriter, r *http.Request) error {
	chosen, err := a.wayChosen(r, r.FormValue("road"))
	if err != nil {
		return err
	}
	return pages.Part(w, r, "new.html", "way", http.StatusOK, chosen)
}

func (a area) wayChosen(r *http.Request, road string) (wayChosen, error) {
	c := wayChosen{Road: road}
	what, which, _ := strings.Cut(road, "-")
	switch way := lesson.Way(which); {
	case what == "own":
		o, err := a.ownRoad(r, which)
		c.Name, c.Why = o.Name, "a road of your own"
		return c, err
	case what == "way" && slices.Contains(lesson.Ways(), way):
		c.Name, c.Why = way.Name(), way.Good()
		return c, nil
	}
	from := r.FormValue("from")
	if one, ok := starters.Find(strings.TrimPrefix(from, fromStarters)); ok {
		way, why := one.Suited()
		c.Name, c.Why = way.Name(), why
		return c, nil
	}
	id, err := strconv.ParseUint(from, 10, 63)
	if err != nil {
		return c, nil
	}
	pic, err := a.Store.Picture(r.Context(), kit.Owner(r), id)
	if err != nil {
		return c, err
	}
	way, why, err := a.suited(r, pic)
	c.Name, c.Why = way.Name(), why
	return c, err
}

// suited returns the way of working that suits a picture, and why.
func (a area) suited(r *http.Request, pic store.Picture) (lesson.Way, string, error) {
	hard, err := a.Hard(r.Context(), kit.Owner(r), pic)
	facts := pic.Facts
	if facts == nil {
		facts = &picture.Facts{}
	}
	way, why := lesson.Suited(facts, hard.Level)
	return way, why, err
}

// proposedFor returns the way for a picture; of a starter it is known without measuring.
func (a area) proposedFor(r *http.Request, pic store.Picture, one *starters.Picture) (lesson.Way, error) {
	if one != nil {
		way, _ := one.Suited()
		return way, nil
	}
	way, _, err := a.suited(r, pic)
	return way, err
}

// starterPicture returns a starter as one of the teacher's own: the one that was taken from it before, if it is still there.
func (a area) starterPicture(r *http.Request, one starters.Picture) (store.Picture, error) {
	p, files, err := intake.Take(r.Context(), one.Name, one.Bytes(), store.ForReference)
	if err != nil {
		return p, err
	}
	library, err := a.Store.Library(r.Context(), kit.Owner(r), one.Name)
	if err != nil {
		return p, err
	}
	for _, had := range library {
		if bytes.Equal(had.Hash, p.Hash) {
			return had, nil
		}
	}
	p.TeacherID, p.Difficulty = kit.Owner(r), one.Level
	return p, a.Store.AddPicture(r.Context(), &p, files)
}

// chosenPicture returns the picture of the library or the starters that a form names, or the one it brings.
func (a area) chosenPicture(r *http.Request) (store.Picture, *starters.Picture, error) {
	from := r.FormValue("from")
	if from == "" || kit.HasFile(r, "picture") {
		pic, err := a.TakePicture(r, "picture", store.ForReference)
		return pic, nil, err
	}
	if !kit.Owns(r) {
		return store.Picture{}, nil, store.ErrNotFound
	}
	if code, ok := strings.CutPrefix(from, fromStarters); ok {
		one, ok := starters.Find(code)
		if !ok {
			return store.Picture{}, nil, kit.Ask("That picture is not there any more. Choose another.")
		}
		pic, err := a.starterPicture(r, one)
		return pic, &one, err
	}
	id, err := strconv.ParseUint(from, 10, 63)
	if err != nil {
		return store.Picture{}, nil, kit.Ask("Choose a picture, or bring one of your own.")
	}
	pic, err := a.Store.Picture(r.Context(), kit.Owner(r), id)
	return pic, nil, err
}

func (a area) add(w http.ResponseWriter, r *http.Request) error {
	p := store.Project{TeacherID: kit.Owner(r), Name: strings.TrimSpace(strings.ToValidUTF8(r.FormValue("name"), "")), Looseness: accuracy.Normal}
	if len([]rune(p.Name)) > longestTitle {
		return kit.Ask("Write a shorter name, of at most %d letters.", longestTitle)
	}
	class, err := a.Chosen(r)
	if err != nil {
		return err
	}
	p.ClassID = class
	road := r.FormValue("road")
	if err := a.begin(r, &p, road); err != nil {
		return err
	}
	var one *starters.Picture
	if p.EffectiveRoad().Way == lesson.FromLife && !kit.HasFile(r, "picture") && r.FormValue("from") == "" {
		p.Name = cmp.Or(p.Name, "From life") // the thing itself is the picture
	} else {
		var pic store.Picture
		if pic, one, err = a.chosenPicture(r); err != nil {
			return err
		}
		p.Name, p.PictureID = cmp.Or(p.Name, pic.Name), &pic.ID
		if road == proposed {
			way, err := a.proposedFor(r, pic, one)
			if err != nil {
				return err
			}
			setWay(&p, way)
		}
	}
	if err := a.Store.AddProject(r.Context(), &p); err != nil {
		return err
	}
	return a.beginPlan(w, r, p, one)
}

// beginPlan keeps the plan and landmarks with which a starter begins, and that of views, which
// have lines and no boxes, so that it is not asked for; others have none yet.
func (a area) beginPlan(w http.ResponseWriter, r *http.Request, p store.Project, one *starters.Picture) error {
	way := p.EffectiveRoad().Way
	next := kit.ProjectPath(p) + "?step=picture"
	if way == lesson.ByViews {
		next = kit.ProjectPath(p) + "/views"
	} else if one == nil {
		return kit.Go(w, r, next)
	}
	p, err := a.Store.Project(r.Context(), p.TeacherID, p.ID)
	if err != nil {
		return err
	}
	ask := firstAsk(r, p)
	if one != nil {
		if ask, err = a.beginStarter(r, p, *one, ask); err != nil {
			return err
		}
	}
	plan, err := grid.Make(ask)
	if err != nil {
		return err
	}
	if _, err := plans.Keep(r.Context(), a.Store, p, 0, plan); err != nil {
		return err
	}
	return kit.Go(w, r, next)
}

// beginStarter keeps the landmarks of a starter, and asks for its boxes where it is drawn by them.
func (a area) beginStarter(r *http.Request, p store.Project, one starters.Picture, ask grid.Request) (grid.Request, error) {
	for _, m := range one.Landmarks {
		mark := store.Landmark{ProjectID: p.ID, PictureID: p.PictureID, Name: m.Name, Weight: m.Weight,
			X: m.At.X * float64(p.Picture.Width), Y: m.At.Y * float64(p.Picture.Height)}
		if err := a.Store.AddLandmark(r.Context(), &mark); err != nil {
			return ask, err
		}
	}
	if p.EffectiveRoad().Way == lesson.ByBox {
		units, _ := kit.Habits(r)
		return one.Ask(p.Name, p.Picture.Pixels(), units), nil
	}
	return ask, nil
}

// comparing is what a way of working is checked by beside the picture.
var comparing = map[lesson.Way]accuracy.Compare{lesson.ByFold: accuracy.Fold, lesson.ByTurn: accuracy.Turned, lesson.ByViews: accuracy.Views}

// begin gives a new project its way of working: way-CODE, or own-ID for a road of the teacher's; box by box where it says neither.
func (a area) begin(r *http.Request, p *store.Project, road string) error {
	what, which, _ := strings.Cut(road, "-")
	switch way := lesson.Way(which); {
	case what == "own":
		o, err := a.ownRoad(r, which)
		if err != nil {
			return err
		}
		p.Road = &o.Road
	case what == "way" && slices.Contains(lesson.Ways(), way):
		setWay(p, way)
	}
	return nil
}

func setWay(p *store.Project, way lesson.Way) {
	if way == lesson.ByBox {
		return
	}
	road := way.Road()
	p.Road = &road
	if way == lesson.ByQuarters {
		p.Looseness = accuracy.Loose
	}
	p.Compare = comparing[way]
}

// ownRoad returns one of the teacher's own roads by its number.
func (a area) ownRoad(r *http.Request, which string) (store.OwnRoad, error) {
	roads, err := a.Store.OwnRoads(r.Context(), kit.Owner(r))
	if err != nil {
		return store.OwnRoad{}, err
	}
	for _, o := range roads {
		if fmt.Sprint(o.ID) == which {
			return o, nil
		}
	}
	return store.OwnRoad{}, kit.Ask("That road is not kept any more. Choose another.")
}

// starterThumb answers with a small picture of a starter.
func (a area) starterThumb(w http.ResponseWriter, r *http.Request) error {
	one, ok := starters.Find(chi.URLParam(r, "starter"))
	if !ok {
		return store.ErrNotFound
	}
	w.Header().Set("Cache-Control", "private, max-age=86400")
	http.ServeContent(w, r, one.Code+".jpg", time.Time{}, bytes.NewReader(one.Thumb()))
	return nil
}
