package finish

import (
	"bytes"
	"context"
	"fmt"
	"image/jpeg"
	"net/http"
	"net/url"
	"time"

	"zestysketch/internal/checkin"
	core "zestysketch/internal/core/finish"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/render"
	"zestysketch/internal/room"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// showAsk is what stands on labels, in the words it was said.
type showAsk struct {
	Title, Medium, When string
}

func readShow(r *http.Request, p store.Project) showAsk {
	q := r.URL.Query()
	a := showAsk{Title: kit.Tidy(q.Get("title")), Medium: kit.Tidy(q.Get("medium")), When: kit.Tidy(q.Get("when"))}
	if a.Title == "" {
		a.Title = p.Name
	}
	if a.Medium == "" {
		a.Medium = "Pencil on paper"
	}
	if a.When == "" {
		a.When = kit.Clock(r).Month(time.Now())
	}
	return a
}

func (a showAsk) query() url.Values {
	return url.Values{"title": {a.Title}, "medium": {a.Medium}, "when": {a.When}}
}

// hung is one student's drawings, the oldest photo first.
type hung struct {
	Student store.Student
	Photos  []store.CheckIn // of which it is known where the drawing lies
	Says    lesson.Consent
}

// hanging is a project's class with its photos.
type hanging struct {
	clock room.Clock
	work
	ask   showAsk
	hands []hung
}

func (a area) hanging(r *http.Request) (h hanging, err error) {
	if h.work, err = a.open(r); err != nil {
		return h, err
	}
	h.ask, h.clock = readShow(r, h.project), kit.Clock(r)
	if h.project.Class == nil {
		return h, nil
	}
	all, err := a.Store.CheckIns(r.Context(), h.project)
	if err != nil {
		return h, err
	}
	of := map[uint64][]store.CheckIn{}
	for i := len(all) - 1; i >= 0; i-- { // they come the newest first
		if all[i].Corners != nil {
			of[all[i].StudentID] = append(of[all[i].StudentID], all[i])
		}
	}
	says, err := a.Store.SaidByAll(r.Context(), h.project.ID, lesson.ConsentSays)
	if err != nil {
		return h, err
	}
	for _, s := range h.project.Class.Students {
		h.hands = append(h.hands, hung{s, of[s.ID], lesson.Consent(says[s.ID])})
	}
	return h, nil
}

// label is what stands beside a student's drawing: their name, unless they would rather not.
func (h hanging) label(k hung) sheet.Label {
	name := k.Student.Name
	if k.Says == lesson.Unnamed {
		name = "A student"
	}
	return sheet.Label{Name: name, Title: h.ask.Title, Medium: h.ask.Medium, Class: h.project.Class.Name, When: h.ask.When}
}

// showView is what the page shows.
type showView struct {
	head
	Ask      showAsk
	Hung     []hung
	Photos   int
	Agreed   int // to be shown
	Refused  int
	Cautions []string
}

func (a area) showShow(w http.ResponseWriter, r *http.Request, h hanging) error {
	v := showView{head: h.newHead("/show", h.ask.query()), Ask: h.ask, Hung: h.hands, Cautions: lesson.Cautions(lesson.Photos, lesson.Trimmer)}
	for _, k := range h.hands {
		if len(k.Photos) > 0 {
			v.Photos++
		}
		switch {
		case !k.Says.Shown():
			v.Refused++
		case k.Says != lesson.Unsaid:
			v.Agreed++
		}
	}
	return pages.Whole(w, r, "show.html", h.project.Name+" · show", v)
}

// classHanging is hanging where there is somebody to make pages for; else it asks for a class.
func (a area) classHanging(r *http.Request) (hanging, error) {
	h, err := a.hanging(r)
	if err == nil && len(h.hands) == 0 {
		err = kit.Ask("There is nobody to show yet: choose a class with students for this project.")
	}
	return h, err
}

func (a area) labels(w http.ResponseWriter, r *http.Request, h hanging) (err error) {
	var all []sheet.Label
	for _, k := range h.hands {
		if k.Says.Shown() {
			all = append(all, h.label(k))
		}
	}
	made, err := sheet.Labels(h.wish, all)
	if err != nil {
		return asked(err)
	}
	return a.send(w, r, h.work, "labels", nil, made...)
}

// drawn returns a photo's drawing seen straight on, and keeps its bytes by name.
func (a area) drawn(ctx context.Context, h hanging, c store.CheckIn, pictures render.Pictures) (*sheet.Drawn, error) {
	plan, _ := h.set.Own(c.StudentID)
	img, err := checkin.Straight(ctx, a.Store, h.project.TeacherID, plan, c, drawnSide)
	if err != nil || img == nil {
		return nil, err
	}
	var jpg bytes.Buffer
	if err := jpeg.Encode(&jpg, img, &jpeg.Options{Quality: 85}); err != nil {
		return nil, err
	}
	name := fmt.Sprintf("drawing %d", c.ID)
	pictures[name] = jpg.Bytes()
	return &sheet.Drawn{Name: name, Pixels: [2]int{img.Rect.Dx(), img.Rect.Dy()}}, nil
}

func (a area) exhibition(w http.ResponseWriter, r *http.Request, h hanging) (err error) {
	pictures := render.Pictures{}
	var all []sheet.Hung
	var missing []string
	for _, k := range h.hands {
		if !k.Says.Shown() {
			continue
		}
		d, err := a.latest(r.Context(), h, k, pictures)
		if err != nil {
			return err
		}
		if d == nil {
			missing = append(missing, k.Student.Name)
			continue
		}
		all = append(all, sheet.Hung{Name: h.label(k).Name, Drawn: *d})
	}
	made, err := sheet.Exhibition(h.wish, h.ask.Title+" · "+h.project.Class.Name, all, missing)
	if err != nil {
		return asked(err)
	}
	return a.send(w, r, h.work, "exhibition", pictures, made...)
}

// page makes one student's portfolio page.
func (a area) page(ctx context.Context, h hanging, k hung, last *sheet.Drawn, reached map[string]bool, pictures render.Pictures) (page.Page, error) {
	p := sheet.Portfolio{Label: h.label(hung{Student: k.Student}), Last: last}
	if len(k.Photos) > 1 {
		var err error
		if p.First, err = a.drawn(ctx, h, k.Photos[0], pictures); err != nil {
			return page.Page{}, err
		}
	}
	if lines := measured(h.clock, k.Photos); lines != nil {
		p.Entries = append(p.Entries, sheet.Entry{Head: "Measured", Lines: lines})
	}
	var lines []string
	for _, o := range h.project.EffectiveRoad().Goals() {
		if reached[o.Code] {
			lines = append(lines, o.Words)
		}
	}
	if lines != nil {
		p.Entries = append(p.Entries, sheet.Entry{Head: "Reached", Lines: lines})
	}
	wish, err := a.own(ctx, h, k.Student, pictures)
	if err != nil {
		return page.Page{}, err
	}
	return sheet.PortfolioPage(wish, p)
}

// own returns the wish for one student's pages, by the plan and the picture
// that they draw from.
func (a area) own(ctx context.Context, h hanging, s store.Student, pictures render.Pictures) (sheet.Wish, error) {
	wish := h.wish
	wish.Who.Name = s.Name
	plan, pic := h.set.Own(s.ID)
	wish.Plan = plan
	if pic == nil || h.project.PictureID != nil && *h.project.PictureID == pic.ID {
		return wish, nil
	}
	file, err := a.Store.PictureFile(ctx, h.project.TeacherID, pic.ID, store.View)
	wish.Picture = fmt.Sprintf("picture %d", pic.ID)
	pictures[wish.Picture] = file.Bytes
	return wish, err
}

// measured says how the first and the last photo were, in boxes.
func measured(clock room.Clock, photos []store.CheckIn) (lines []string) {
	for i, c := range photos {
		if c.Gist == nil || i > 0 && i < len(photos)-1 {
			continue
		}
		if right, of := c.Gist.Right(); of > 0 {
			lines = append(lines, fmt.Sprintf("%s: %d of %d boxes in their places", clock.Months(c.CreatedAt), right, of))
		}
	}
	return lines
}

func (a area) portfolios(w http.ResponseWriter, r *http.Request, h hanging) error {
	return a.sendPortfolios(w, r, h, "portfolios")
}

func (a area) sendPortfolios(w http.ResponseWriter, r *http.Request, h hanging, what string) error {
	reached, err := a.Store.Reached(r.Context(), h.project.ID)
	if err != nil {
		return err
	}
	return a.sendEach(w, r, h, what, func(k hung, last *sheet.Drawn, pictures render.Pictures) (page.Page, error) {
		return a.page(r.Context(), h, k, last, reached[k.Student.ID], pictures)
	})
}

// alone leaves one student of those that hang.
func (a area) alone(r *http.Request) (hanging, error) {
	h, err := a.hanging(r)
	if err != nil {
		return h, err
	}
	id, err := kit.ID(r, "student")
	if err != nil {
		return h, err
	}
	for _, k := range h.hands {
		if k.Student.ID == id {
			h.hands = []hung{k}
			return h, nil
		}
	}
	return h, store.ErrNotFound
}

func (a area) portfolio(w http.ResponseWriter, r *http.Request, h hanging) error {
	return a.sendPortfolios(w, r, h, "portfolio "+h.hands[0].Student.Name)
}

func (a area) sideBySide(w http.ResponseWriter, r *http.Request, h hanging) (err error) {
	k := h.hands[0]
	if len(k.Photos) == 0 {
		return kit.Ask("There is no photo of this drawing yet. Take one in on the Check step, then print both side by side.")
	}
	pictures := render.Pictures{}
	d, err := a.drawn(r.Context(), h, k.Photos[len(k.Photos)-1], pictures)
	if err != nil {
		return err
	}
	if d == nil {
		return kit.Ask("The photo does not show where the drawing lies. Set its corners on the Check step first.")
	}
	wish, err := a.own(r.Context(), h, k.Student, pictures)
	if err != nil {
		return err
	}
	_, pic := h.set.Own(k.Student.ID)
	if pic == nil {
		return kit.Ask("Choose a picture for this project first: the drawing is laid beside it.")
	}
	img, perMM, err := a.Framed(r.Context(), h.project.TeacherID, &pic.ID, wish.Plan)
	if err != nil {
		return err
	}
	m, err := core.ToneSteps(img, perMM, 4)
	if err != nil {
		return err
	}
	made, err := sheet.SideBySide(wish, *d, core.NewTone(img, m, core.ToneWish{Plan: wish.Plan}).Whites)
	if err != nil {
		return asked(err)
	}
	return a.send(w, r, h.work, "side by side "+k.Student.Name, pictures, made)
}
