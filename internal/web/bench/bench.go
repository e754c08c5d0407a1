// Package bench is one project's workplace: its picture, frame, sizes, grid,
// marks and prints, one step beside the other on one page.
package bench

import (
	"cmp"
	"embed"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"strings"
	"unicode/utf16"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/plans"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

//go:embed *.html
var files embed.FS

var pages = kit.NewPages(files)

type area struct{ *kit.Kit }

// Routes adds the area's addresses.
func Routes(r kit.Routes, k *kit.Kit) {
	a := area{k}
	r.Get("/projects/new", store.Owns, kit.NoAudit, a.askNew)
	r.Get("/projects/new/way", store.Owns, kit.NoAudit, a.askWay)
	r.Get("/starters/{starter}", store.Owns, kit.NoAudit, a.starterThumb)
	r.Take("/projects", kit.Picture, store.Owns, "made a project", a.add)
	r.Get("/projects/{project}", store.ToLook, kit.NoAudit, kit.With(a.Project, a.show))
	r.Get("/projects/{project}/plan", store.ToLook, kit.NoAudit, kit.With(a.Project, a.preview))
	r.Post("/projects/{project}/plan", store.ToOwn, "kept a plan", kit.With(a.Project, a.keep))
	r.Get("/projects/{project}/plans", store.ToLook, kit.NoAudit, kit.With(a.Project, a.versions))
	r.Post("/projects/{project}/plans/{version}/restore", store.ToOwn, "brought an earlier plan back", kit.With(a.Project, a.restore))
	r.Get("/projects/{project}/plan.json", store.ToLook, kit.NoAudit, kit.WithBoth(a.Planned, a.export))
	r.Take("/projects/{project}/plan.json", kit.List, store.ToOwn, "took a plan file in", kit.With(a.Project, a.take))
	r.Take("/projects/{project}/picture", kit.Picture, store.ToOwn, "added a picture to a project", kit.With(a.Project, a.addPicture))
	r.Post("/projects/{project}/pictures/{picture}", store.ToOwn, "changed a project's picture", kit.WithBoth(a.offered, a.usePicture))
	r.Post("/projects/{project}/pictures/{picture}/withdraw", store.ToOwn, "took a picture off a project", kit.WithBoth(a.offered, a.withdraw))
	r.Post("/projects/{project}/frames", store.ToOwn, "kept a frame", kit.With(a.Project, a.keepFrame))
	r.Post("/projects/{project}/frames/{frame}/remove", store.ToOwn, "removed a frame", kit.With(a.Project, a.removeFrame))
	r.Post("/projects/{project}/students/{student}/picture", store.ToOwn, "gave a student a picture of their own", kit.With(a.Project, a.assign))
	r.Get("/projects/{project}/thumbnails.pdf", store.ToLook, kit.NoAudit, kit.With(a.Project, a.thumbnails))
	r.Take("/projects/{project}/thumbnails", kit.Picture, store.ToOwn, kit.NoAudit, kit.With(a.Project, a.cutSmall))
	r.Get("/projects/{project}/views", store.ToLook, kit.NoAudit, kit.With(a.Project, a.showViews))
	r.Take("/projects/{project}/views", kit.Picture, store.ToOwn, "added a picture to be brought to one height", kit.With(a.Project, a.addView))
	r.Post("/projects/{project}/views/pair", store.ToOwn, "hung pictures together or apart", kit.With(a.Project, a.setPair))
	r.Post("/projects/{project}/views/{view}", store.ToOwn, "pressed points on a picture", kit.WithBoth(a.postedView, a.changeView))
	r.Post("/projects/{project}/views/{view}/marks", store.ToOwn, "changed a line across pictures", kit.WithBoth(a.postedView, a.markView))
	r.Get("/projects/{project}/gestures", store.ToLook, kit.NoAudit, kit.With(a.Project, a.gestures))
	r.Get("/projects/{project}/crowded", store.ToLook, kit.NoAudit, kit.With(a.Project, a.crowded))
	r.Get("/pictures/{picture}/{role}", store.ToLook, kit.NoAudit, kit.With(kit.IDOf("picture"), a.picture))
}

// readAsk reads a plan request from a form; the picture is the project's.
func readAsk(r *http.Request, p store.Project) grid.Request {
	var ask grid.Request
	for _, f := range ask.Fields() {
		*f.Value = text(r, f.Name)
	}
	return withPicture(ask, p)
}

// text reads one field of a form: one line, no longer than anything sensible.
func text(r *http.Request, field string) string {
	s := kit.Tidy(r.FormValue(field))
	if runes := []rune(s); len(runes) > 300 {
		return string(runes[:300])
	}
	return s
}

func withPicture(ask grid.Request, p store.Project) grid.Request {
	ask.Picture = p.Picture.Pixels()
	return ask
}

func (a area) show(w http.ResponseWriter, r *http.Request, p store.Project) (err error) {
	b, err := a.lay(r, p, nil)
	if err != nil {
		return err
	}
	return pages.Whole(w, r, "bench.html", p.Name, b)
}

func (a area) preview(w http.ResponseWriter, r *http.Request, p store.Project) (err error) {
	ask, err := respell(w, r, readAsk(r, p))
	if err != nil {
		return err
	}
	b, err := a.lay(r, p, &ask)
	if err != nil {
		return err
	}
	b.Seen = formVersion(r)
	return b.answer(w, r, http.StatusOK)
}

// respell writes the old unit after bare numbers when another unit is looked
// at, and has the page do the same in its fields.
func respell(w http.ResponseWriter, r *http.Request, ask grid.Request) (grid.Request, error) {
	was, err := measure.ParseUnit(r.FormValue("units_was"))
	if err != nil || string(was) == ask.Units {
		return ask, nil
	}
	ask, changed := ask.Spelled(was)
	if len(changed) == 0 {
		return ask, nil
	}
	event, err := json.Marshal(map[string]any{"zesty:spelled": changed})
	w.Header().Set("HX-Trigger", inASCII(event))
	return ask, err
}

// inASCII writes JSON so that it survives a header.
func inASCII(b []byte) string {
	var out strings.Builder
	for _, r := range string(b) {
		if r < 0x80 {
			out.WriteRune(r)
			continue
		}
		for _, unit := range utf16.Encode([]rune{r}) {
			fmt.Fprintf(&out, `\u%04x`, unit)
		}
	}
	return out.String()
}

// answer sends the live part to htmx, the whole page to a browser without it.
func (b bench) answer(w http.ResponseWriter, r *http.Request, status int) error {
	if kit.IsFragment(r) {
		b.Rail.Again = true
		return pages.Part(w, r, "bench.html", "live", status, b)
	}
	return pages.WholeStatus(w, r, "bench.html", b.Project.Name, status, b)
}

func formVersion(r *http.Request) int {
	seen, err := strconv.Atoi(r.FormValue("seen"))
	if err != nil {
		return -1
	}
	return seen
}

func (a area) keep(w http.ResponseWriter, r *http.Request, p store.Project) (err error) {
	ask := readAsk(r, p)
	b, err := a.lay(r, p, &ask)
	if err != nil {
		return err
	}
	b.Seen = formVersion(r)
	if b.Plan == nil {
		return b.answer(w, r, http.StatusUnprocessableEntity)
	}
	use, err := plans.InUse(r.Context(), a.Store, p, b.Kept, *b.Plan)
	if err != nil {
		return err
	}
	b.Using = usingOf(p, use, *b.Plan)
	if stops := b.Using != nil && b.Using.Stop != ""; stops || r.FormValue("sure") == "" {
		step, err := plans.Foresee(r.Context(), a.Store, p, *b.Plan)
		if err != nil {
			return err
		}
		b.Losses = losses(p, step)
		if len(b.Losses) > 0 || b.Using != nil {
			return b.answer(w, r, http.StatusUnprocessableEntity)
		}
	}
	b.Using = nil
	version, err := plans.Keep(r.Context(), a.Store, p, b.Seen, *b.Plan)
	if errors.Is(err, store.ErrConflict) {
		b.Conflict = true
		b.Seen = p.PlanVersion // keeping again then is a choice, not an accident
		return b.answer(w, r, http.StatusUnprocessableEntity)
	}
	if err != nil {
		return err
	}
	if err := a.weigh(r, p); err != nil {
		return err
	}
	b.Kept, b.Seen = b.Plan, version
	b.Rail.Planned, b.Rail.Project.Name = true, cmp.Or(b.Plan.Name, p.Name)
	return b.answer(w, r, http.StatusOK)
}

// weigh looks at the picture under the plan that was kept just now.
func (a area) weigh(r *http.Request, p store.Project) error {
	kept, err := a.Store.Project(r.Context(), p.TeacherID, p.ID)
	if err != nil {
		return err
	}
	return a.Rooms.Weigh(r.Context(), kept)
}
