package finish

import (
	"context"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/plans"
	"zestysketch/internal/render"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// longestHome is how long a teacher's words on the page for home may be, in letters.
const longestHome = 500

// taken is what a page for home says beside photos: what is ticked, done and reached.
type taken struct {
	road    lesson.Road
	plans   plans.Set
	ticks   map[uint64]map[string]bool
	state   store.RoadState
	reached map[uint64]map[string]bool
}

func (a area) taken(ctx context.Context, h hanging) (t taken, err error) {
	t.road = h.project.EffectiveRoad()
	if t.plans, err = plans.Shown(ctx, a.Store, h.project, h.plan); err != nil {
		return t, err
	}
	if t.ticks, err = a.Store.Ticks(ctx, h.project.ID); err != nil {
		return t, err
	}
	if t.state, err = a.Store.RoadState(ctx, h.project.ID, 0); err != nil {
		return t, err
	}
	t.reached, err = a.Store.Reached(ctx, h.project.ID)
	return t, err
}

// finished reports whether every box of a student is ticked.
func (t taken) finished(student uint64) bool {
	return len(t.plans.Done(student, t.ticks[student])) >= t.plans.Count(student)
}

// homeOf says of one student's drawing what a family wants to know.
func (t taken) homeOf(h hanging, k hung) sheet.Home {
	id := k.Student.ID
	done := t.plans.Done(id, t.ticks[id])
	home := sheet.Home{Label: h.label(hung{Student: k.Student}), Done: done, Look: map[string]bool{}, Count: fmt.Sprintf("%d of %d %s are drawn.", len(done), t.plans.Count(id), t.road.Unit().Many)}
	var well, mended []string
	if first, last := ends(k.Photos); last != nil {
		for _, label := range last.Wrong {
			home.Look[label] = true
		}
		if right, of := last.Right(); of > 0 {
			well = append(well, fmt.Sprintf("%d of %d boxes that were measured are in their places.", right, of))
		}
		for _, label := range first.Wrong {
			if !home.Look[label] {
				mended = append(mended, label)
			}
		}
	}
	for _, o := range t.road.Goals() {
		if t.reached[id][o.Code] {
			well = append(well, o.Words+".")
		}
	}
	var mend []string
	if len(mended) > 0 {
		mend = []string{strings.Join(mended, ", ")}
	}
	next := "All stages are done."
	if place := t.road.Where(t.state.Done[id], t.state.VerdictsOf(id)); !place.Done {
		next = fmt.Sprintf("%s: %s", place.Stage.Name(), place.Stage.Board())
	}
	home.Entries = []sheet.Entry{{Head: "Goes well", Lines: well}, {Head: "Mended since", Lines: mend}, {Head: "Comes next", Lines: []string{next}}}
	return home
}

// ends returns what the first and the last measured photo say; nil where none was measured.
func ends(photos []store.CheckIn) (first, last *accuracy.Gist) {
	for _, c := range photos {
		if c.Gist == nil || !c.Gist.Measured {
			continue
		}
		if first == nil {
			first = c.Gist
		}
		last = c.Gist
	}
	return first, last
}

// latest returns a student's last drawing seen straight on, nil without one.
func (a area) latest(ctx context.Context, h hanging, k hung, pictures render.Pictures) (*sheet.Drawn, error) {
	if len(k.Photos) == 0 {
		return nil, nil
	}
	return a.drawn(ctx, h, k.Photos[len(k.Photos)-1], pictures)
}

// home answers with one student's page for home, with the teacher's words on it.
func (a area) home(w http.ResponseWriter, r *http.Request, h hanging) error {
	words := kit.Tidy(r.FormValue("words"))
	if len([]rune(words)) > longestHome {
		return kit.AskAt("words", "Write it shorter, in at most %d letters.", longestHome)
	}
	return a.sendHomes(w, r, h, words, "home "+h.hands[0].Student.Name)
}

// homes answers with everybody's, with lines for the teacher to write on.
func (a area) homes(w http.ResponseWriter, r *http.Request, h hanging) error {
	return a.sendHomes(w, r, h, "", "home")
}

func (a area) sendHomes(w http.ResponseWriter, r *http.Request, h hanging, words, what string) error {
	t, err := a.taken(r.Context(), h)
	if err != nil {
		return err
	}
	return a.sendEach(w, r, h, what, func(k hung, d *sheet.Drawn, pictures render.Pictures) (page.Page, error) {
		home := t.homeOf(h, k)
		home.Words, home.Drawn = words, d
		wish, err := a.own(r.Context(), h, k.Student, pictures)
		if err != nil {
			return page.Page{}, err
		}
		return sheet.HomePage(wish, home)
	})
}

// sendEach answers with a page for everybody who hangs, made from their last drawing, which is
// nil without one.
func (a area) sendEach(w http.ResponseWriter, r *http.Request, h hanging, what string, make func(hung, *sheet.Drawn, render.Pictures) (page.Page, error)) error {
	pictures := render.Pictures{}
	var made []page.Page
	for _, k := range h.hands {
		d, err := a.latest(r.Context(), h, k, pictures)
		if err != nil {
			return err
		}
		pg, err := make(k, d, pictures)
		if err != nil {
			return asked(err)
		}
		made = append(made, pg)
	}
	return a.send(w, r, h.work, what, pictures, made...)
}

// certificates answers with one for everybody whose drawing is finished.
func (a area) certificates(w http.ResponseWriter, r *http.Request, h hanging) (err error) {
	t, err := a.taken(r.Context(), h)
	if err != nil {
		return err
	}
	h.hands = slices.DeleteFunc(h.hands, func(k hung) bool { return !t.finished(k.Student.ID) })
	if len(h.hands) == 0 {
		return kit.Ask("Nobody has finished yet: a certificate is made for everybody whose boxes are all ticked.")
	}
	return a.sendEach(w, r, h, "certificates", func(k hung, d *sheet.Drawn, _ render.Pictures) (page.Page, error) {
		home := t.homeOf(h, k)
		return sheet.Certificate(h.wish, home.Label, d, home.Entries[0].Lines)
	})
}

// poster answers with all drawings that may be shown, on one page.
func (a area) poster(w http.ResponseWriter, r *http.Request, h hanging) (err error) {
	pictures := render.Pictures{}
	var all []sheet.Hung
	for _, k := range h.hands {
		if !k.Says.Shown() {
			continue
		}
		d, err := a.latest(r.Context(), h, k, pictures)
		if err != nil {
			return err
		}
		if d == nil {
			continue
		}
		name := ""
		if k.Says.Name() { // others see it: only who agreed is named
			name = k.Student.Name
		}
		all = append(all, sheet.Hung{Name: name, Drawn: *d})
	}
	pg, err := sheet.Poster(h.wish, h.ask.Title, h.project.Class.Name, all)
	if err != nil {
		return asked(err)
	}
	return a.send(w, r, h.work, "poster", pictures, pg)
}
