package bench

import (
	"encoding/json"
	"fmt"
	"html/template"
	"net/http"
	"strconv"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/plans"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// composeView is what the Compose step shows.
type composeView struct {
	Picture    store.Picture
	Viewfinder string        // the frame's numbers, for the hand on the picture
	Preview    template.HTML // what the frame shows
	Says       []string      // and how that lies in it
	Aside      []asideView
}

// ViewBox leaves room round the picture for the frame's grips.
func (v composeView) ViewBox() string {
	w, h := v.Picture.Width, v.Picture.Height
	room := max(w, h) / 40
	return fmt.Sprintf("%d %d %d %d", -room, -room, w+2*room, h+2*room)
}

// asideView is one frame kept aside, of the project's present picture or another.
type asideView struct {
	store.Frame
	Drawing template.HTML
	Says    []string
	Set     set // nil where it is of another picture
	frame   grid.Frame
}

func (a area) newComposeView(r *http.Request, b *bench) (*composeView, error) {
	if b.Project.Picture == nil {
		return nil, nil
	}
	v := &composeView{Picture: *b.Project.Picture}
	w, h := float64(v.Picture.Width), float64(v.Picture.Height)
	frame := grid.Frame{Picture: [2]int{v.Picture.Width, v.Picture.Height}, Centre: plane.Pt(w/2, h/2), Size: [2]float64{w, h}}
	if asked, err := b.Ask.AskedFrame(); err == nil && asked != nil {
		frame = *asked
	}
	ratio := 0.0
	if b.Plan != nil {
		ratio = b.Plan.Sheet.Stock[0] / b.Plan.Sheet.Stock[1]
	}
	numbers, err := json.Marshal(map[string]any{"width": w, "height": h, "x": frame.Centre.X, "y": frame.Centre.Y,
		"w": frame.Size[0], "h": frame.Size[1], "angle": frame.Angle, "mirror": frame.Mirror, "paper": ratio, "least": grid.LeastFrame})
	if err != nil {
		return nil, err
	}
	v.Viewfinder = string(numbers)
	if v.Preview, err = framed(frame, v.Picture.ID, store.View); err != nil {
		return nil, err
	}
	if v.Says, err = a.lies(r, b.Project, v.Picture.ID, frame); err != nil {
		return nil, err
	}
	frames, err := a.Store.Frames(r.Context(), b.Project.ID)
	if err != nil {
		return nil, err
	}
	offered, err := a.Store.ProjectPictures(r.Context(), b.Project.ID)
	for _, f := range frames {
		if one, ok := newAside(f, offered, v.Picture.ID); ok {
			if one.Says, err = a.lies(r, b.Project, f.PictureID, one.frame); err != nil {
				return nil, err
			}
			v.Aside = append(v.Aside, one)
		}
	}
	return v, err
}

// lies says how what a frame shows of a picture lies in it: where its weight is, and what touches the edge.
func (a area) lies(r *http.Request, p store.Project, picture uint64, f grid.Frame) ([]string, error) {
	c, err := a.Composed(r.Context(), p.TeacherID, picture, f)
	return []string{c.Say(), c.SayTouches()}, err
}

func newAside(f store.Frame, offered []store.Picture, main uint64) (asideView, bool) {
	for _, p := range offered {
		if p.ID != f.PictureID {
			continue
		}
		frame, err := grid.Request{Picture: [2]int{p.Width, p.Height}, Frame: f.Frame}.AskedFrame()
		if err != nil {
			return asideView{}, false
		}
		one := asideView{Frame: f, frame: *frame}
		if one.Drawing, err = framed(*frame, p.ID, store.Thumb); err != nil {
			return asideView{}, false
		}
		if p.ID == main {
			one.Set = set{"frame": f.Frame}
		}
		return one, true
	}
	return asideView{}, false
}

// framed draws what a frame shows of a picture.
func framed(f grid.Frame, picture uint64, role store.Role) (template.HTML, error) {
	k := 100 / max(f.Size[0], f.Size[1])
	pg := page.Page{Title: "What the frame shows", Size: measure.Size{W: measure.Length(f.Size[0] * k), H: measure.Length(f.Size[1] * k)}}
	pg.Items = []page.Item{page.Picture{Box: plane.Rect{Max: plane.Pt(f.Size[0]*k, f.Size[1]*k)}, Name: sheet.FramePicture, Part: &f}}
	return kit.InlineSVG(pg, kit.LinkTo(picture, role))
}

// OfficePapers returns what the printer may hold, the usual one first.
func (b bench) OfficePapers() []string {
	u := measure.Inch
	if b.Ask.Units != string(measure.Inch) {
		u = measure.Centimetre
	}
	usual, other := measure.OfficePaper(u), measure.OfficePaper(measure.Centimetre)
	if usual == other {
		other = measure.OfficePaper(measure.Inch)
	}
	return []string{usual.Name, other.Name}
}

// mostFrames bounds how many are kept aside, and longestFrameName their names.
const mostFrames, longestFrameName = 12, 40

// keepFrame keeps the frame of the form aside.
func (a area) keepFrame(w http.ResponseWriter, r *http.Request, p store.Project) (err error) {
	if p.Picture == nil {
		return kit.Ask("Choose a picture first, then frame a part of it.")
	}
	frames, err := a.Store.Frames(r.Context(), p.ID)
	if err != nil {
		return err
	}
	if len(frames) >= mostFrames {
		return kit.Ask("There are %d frames kept already. Remove one first.", mostFrames)
	}
	frame, err := withPicture(grid.Request{Frame: text(r, "frame")}, p).AskedFrame()
	if err != nil {
		return kit.Ask("%s.", grid.ProblemsOf(err).Of("frame"))
	}
	f := store.Frame{ProjectID: p.ID, PictureID: p.Picture.ID, Name: text(r, "frame_name"), Frame: frame.String()}
	if f.Name == "" {
		f.Name = "Frame " + strconv.Itoa(len(frames)+1)
	}
	if len([]rune(f.Name)) > longestFrameName {
		return kit.Ask("Write a shorter name for the frame, of at most %d letters.", longestFrameName)
	}
	if err := a.Store.AddFrame(r.Context(), p.TeacherID, &f); err != nil {
		return err
	}
	return a.aside(w, r, p)
}

func (a area) removeFrame(w http.ResponseWriter, r *http.Request, p store.Project) (err error) {
	id, err := kit.ID(r, "frame")
	if err != nil {
		return err
	}
	err = plans.Refit(r.Context(), a.Store, []store.Project{p}, func(s *store.Store) error { return s.RemoveFrame(r.Context(), p.TeacherID, p.ID, id) })
	if err != nil {
		return err
	}
	return a.aside(w, r, p)
}

// aside answers with the frames kept aside; what is typed in the form stays.
func (a area) aside(w http.ResponseWriter, r *http.Request, p store.Project) error {
	if !kit.IsFragment(r) {
		return kit.Go(w, r, kit.ProjectPath(p)+"?step=compose")
	}
	v, err := a.newComposeView(r, &bench{Project: p})
	if err != nil {
		return err
	}
	return pages.Part(w, r, "bench.html", "aside", http.StatusOK, v.withProject(p.ID))
}

// asideList is the part of the Compose step that lists frames.
type asideList struct {
	ProjectID uint64
	Aside     []asideView
}

func (v *composeView) withProject(id uint64) asideList {
	if v == nil {
		return asideList{ProjectID: id}
	}
	return asideList{id, v.Aside}
}

// AsideList is what the template of the list needs.
func (b bench) AsideList() asideList { return b.Compose.withProject(b.Project.ID) }

// gestures is the projector's page for timed thumbnails.
func (a area) gestures(w http.ResponseWriter, r *http.Request, p store.Project) error {
	return pages.Whole(w, r, "gestures.html", p.Name+" · gestures", p)
}
