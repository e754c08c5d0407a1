package bench

import (
	"bytes"
	"encoding/base64"
	"fmt"
	"html/template"
	"image"
	"image/jpeg"
	"net/http"
	"slices"
	"strconv"

	"zestysketch/internal/core/colour"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/intake"
	"zestysketch/internal/plans"
	"zestysketch/internal/render"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// smallBoxes reads which small boxes a page has, of the kept plan's paper or of the one that a plan would begin with.
func (a area) smallBoxes(r *http.Request, p store.Project) (sheet.Wish, error) {
	count := func(field string) int {
		n, err := strconv.Atoi(r.FormValue(field))
		if err != nil {
			return -1
		}
		return n
	}
	paper, ok := measure.PaperNamed(r.FormValue("paper"))
	if !ok {
		return sheet.Wish{}, kit.Ask("Choose the printer's paper, such as A4 or Letter.")
	}
	w := sheet.Wish{Printer: page.On(paper.Size), Upright: count("upright"), Lying: count("lying"), Who: sheet.Who{Project: p.ID}}
	if w.Upright == 0 && w.Lying == 0 {
		return w, kit.Ask("Choose how many boxes: wanted 1 to %d upright or lying.", sheet.MostThumbnails)
	}
	kept, err := plans.Kept(r.Context(), a.Store, p)
	if err != nil {
		return w, err
	}
	if kept == nil {
		first, err := a.firstPlan(r, p)
		if err != nil {
			return w, err
		}
		kept = &first
	}
	w.Plan = *kept
	return w, nil
}

// firstPlan returns the plan with which a project would begin.
func (a area) firstPlan(r *http.Request, p store.Project) (grid.Plan, error) {
	return grid.Make(firstAsk(r, p))
}

// firstAsk returns what its plan is asked for.
func firstAsk(r *http.Request, p store.Project) grid.Request {
	units, _ := kit.Habits(r)
	return plans.First(p.Name, p.Picture.Pixels(), units, p.EffectiveRoad().Way, 0)
}

// thumbnails answers with a page of small boxes of the paper's ratio.
func (a area) thumbnails(w http.ResponseWriter, r *http.Request, p store.Project) error {
	wish, err := a.smallBoxes(r, p)
	if err != nil {
		return err
	}
	pictures := render.Pictures{}
	if r.FormValue("picture") != "" && p.Picture != nil {
		if wish.Frames, err = a.allFrames(r, p); err != nil {
			return err
		}
		file, err := a.Store.PictureFile(r.Context(), p.TeacherID, p.Picture.ID, store.View)
		if err != nil {
			return err
		}
		pictures[sheet.FramePicture] = file.Bytes
	}
	pg, err := sheet.Thumbnails(wish)
	if err != nil {
		return kit.Ask("%v.", err)
	}
	return kit.SendPDF(w, p.Name+" thumbnails", []page.Page{pg}, pictures)
}

// cutView is the small drawings of a photo, cut out.
type cutView struct {
	Project store.Project
	Rail    kit.Rail
	Paper   string
	Small   []smallDrawing
}

// smallDrawing is one, on the paper's proportion, how it lies there, and where that is on the large sheet.
type smallDrawing struct {
	Number int
	Drawn  template.URL
	Says   []string
	Marks  []string
}

// smallSide is the longer side of a small drawing that is cut out, in pixels.
const smallSide = 480

// cutSmall cuts the small drawings out of a photo of their page. The photo is looked at and not kept.
func (a area) cutSmall(w http.ResponseWriter, r *http.Request, p store.Project) error {
	wish, err := a.smallBoxes(r, p)
	if err != nil {
		return err
	}
	boxes, err := sheet.NewThumbnailBoxes(wish)
	if err != nil {
		return kit.Ask("%v.", err)
	}
	if !kit.HasFile(r, "photo") {
		return kit.Ask("Choose a photo of the page of small drawings first: the whole page, from straight above.")
	}
	name, b, err := kit.ReadFile(r, "photo")
	if err != nil {
		return err
	}
	if b, err = intake.Sane(r.Context(), b); err != nil {
		return kit.Ask("“%s”: %v.", intake.Name(name), err)
	}
	v := cutView{Project: p, Rail: kit.NewRail(p, kit.StepCompose), Paper: wish.Plan.StockSize().Text(wish.Plan.Units)}
	err = intake.Use(r.Context(), b, func(img *image.RGBA) error {
		tagged := photo.FindTags(photo.NewShot(img))
		i := slices.IndexFunc(tagged, func(t photo.Tagged) bool { return t.Project == p.ID && t.Student == 0 })
		if i < 0 {
			return kit.Ask("The page's tags are not seen. Photograph the whole page of small drawings from straight above, in good light.")
		}
		drawn, err := boxes.Straight(img, tagged[i].Corners, smallSide)
		for i, one := range drawn {
			small, err := newSmall(i+1, one, wish.Plan)
			if err != nil {
				return err
			}
			v.Small = append(v.Small, small)
		}
		return err
	})
	if err != nil {
		return err
	}
	return pages.Whole(w, r, "thumbnails.html", p.Name+" · small drawings", v)
}

// newSmall says how a small drawing lies, and where to mark that on the large sheet.
func newSmall(number int, img *image.RGBA, p grid.Plan) (s smallDrawing, err error) {
	var jpg bytes.Buffer
	if err := jpeg.Encode(&jpg, img, &jpeg.Options{Quality: 85}); err != nil {
		return s, err
	}
	s = smallDrawing{Number: number, Drawn: template.URL("data:image/jpeg;base64," + base64.StdEncoding.EncodeToString(jpg.Bytes()))}
	c := colour.Compose(img)
	if c.Reach == (plane.Rect{}) {
		s.Says = []string{"Nothing is drawn here."}
		return s, nil
	}
	s.Says = []string{c.Say(), c.SayTouches()}
	stock := p.StockSize()
	if (stock.W > stock.H) != (img.Rect.Dx() > img.Rect.Dy()) {
		stock = stock.Turned()
	}
	across := func(share float64) string { return p.Text(share * float64(stock.W)) }
	down := func(share float64) string { return p.Text(share * float64(stock.H)) }
	s.Marks = []string{
		fmt.Sprintf("From the left edge: it begins at %s and ends at %s.", across(c.Reach.Min.X), across(c.Reach.Max.X)),
		fmt.Sprintf("From the top: it begins at %s and ends at %s.", down(c.Reach.Min.Y), down(c.Reach.Max.Y)),
		fmt.Sprintf("Its weight lies about %s from the left and %s from the top.", across((1+c.Across)/2), down((1+c.Down)/2)),
	}
	return s, nil
}

// allFrames returns the frames kept of the main picture, else all of it, both
// ways round.
func (a area) allFrames(r *http.Request, p store.Project) ([]grid.Frame, error) {
	ask := withPicture(grid.Request{}, p)
	whole, err := ask.AskedFrame()
	if err != nil {
		return nil, err
	}
	kept, err := a.Store.Frames(r.Context(), p.ID)
	if err != nil {
		return nil, err
	}
	var frames []grid.Frame
	for _, f := range kept {
		if f.PictureID != p.Picture.ID {
			continue
		}
		ask.Frame = f.Frame
		if frame, err := ask.AskedFrame(); err == nil {
			frames = append(frames, *frame)
		}
	}
	// One of each way round at the least: the middle of the picture.
	return append(frames, whole.CutTo(3.0/4), whole.CutTo(4.0/3)), nil
}
