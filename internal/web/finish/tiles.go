package finish

import (
	"bytes"
	"encoding/base64"
	"fmt"
	"html/template"
	"image"
	"image/jpeg"
	"net/http"
	"net/url"
	"strconv"

	"zestysketch/internal/core/colour"
	core "zestysketch/internal/core/finish"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/core/tiles"
	"zestysketch/internal/intake"
	"zestysketch/internal/render"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// tileAsk is what the form says: whose arrangement, or which.
type tileAsk struct {
	Student, Seed, Flips string
}

func readTiles(r *http.Request) tileAsk {
	a := tileAsk{Student: r.FormValue("student"), Seed: r.FormValue("seed"), Flips: "on"}
	if a.Seed == "" {
		a.Seed = "1"
	}
	if r.FormValue("sent") != "" {
		a.Flips = r.FormValue("flips")
	}
	return a
}

func (a tileAsk) query() url.Values {
	return url.Values{"student": {a.Student}, "seed": {a.Seed}, "flips": {a.Flips}, "sent": {"1"}}
}

// arranged is a project's picture with its tiles in other places.
type arranged struct {
	work
	ask     tileAsk
	student store.Student // whose it is; the zero one for nobody's
	tiles   tiles.Map
}

func (a area) arranged(r *http.Request) (t arranged, err error) {
	if t.work, err = a.opened(r); err != nil {
		return t, err
	}
	t.ask = readTiles(r)
	seed, err := strconv.ParseUint(t.ask.Seed, 10, 63)
	if err != nil {
		return t, kit.AskAt("seed", "Give the arrangement's number, such as 1; got “%s”.", t.ask.Seed)
	}
	if t.ask.Student != "" {
		if t.student, err = t.find(t.ask.Student); err != nil {
			return t, err
		}
		seed = tiles.SeedFor(t.project.ID, t.student.ID)
	}
	if t.tiles, err = tiles.Shuffle(t.plan, seed, t.ask.Flips != ""); err != nil {
		return t, kit.Ask("%s", kit.Said(err))
	}
	t.wish.Who.Name = t.student.Name
	return t, nil
}

// find returns a student of the project's class by number.
func (w work) find(id string) (store.Student, error) {
	if w.project.Class != nil {
		for _, s := range w.project.Class.Students {
			if strconv.FormatUint(s.ID, 10) == id {
				return s, nil
			}
		}
	}
	return store.Student{}, store.ErrNotFound
}

// lines returns the lines of the picture, in millimetres on the reference.
func (t arranged) lines() (runs [][]plane.Point, err error) {
	sketch, err := lines.Draw(t.image, lines.Wish{Detail: lines.Usual, PerMM: t.perMM, Drawing: t.project.Picture.LineDrawing()})
	if err != nil {
		return nil, err
	}
	for _, s := range sketch.Strokes {
		var run []plane.Point
		for _, q := range s.Points {
			run = append(run, t.plan.ToReference(plane.Pt(q.X/t.perMM, q.Y/t.perMM)))
		}
		if s.Closed {
			run = append(run, run[0])
		}
		runs = append(runs, run)
	}
	return runs, nil
}

// rearranged returns the lines of the picture after the rearrangement, and how
// they meet.
func (t arranged) rearranged() ([][]plane.Point, tiles.Borders, error) {
	runs, err := t.lines()
	if err != nil {
		return nil, tiles.Borders{}, err
	}
	laid := t.tiles.Lines(t.plan, runs)
	return laid, tiles.BordersOf(t.plan, laid), nil
}

// tried is how many arrangements a good one is chosen from.
const tried = 5000

// chosen sends to the best arrangement of those that follow the one asked for.
func (a area) chosen(w http.ResponseWriter, r *http.Request, t arranged) error {
	best, err := kit.Once(a.Kit, func() (tiles.Map, error) {
		runs, err := t.lines()
		if err != nil {
			return tiles.Map{}, err
		}
		m, _, err := tiles.Look(t.plan, t.image, runs).Choose(t.tiles.Seed+1, tried, t.ask.Flips != "")
		return m, err
	}, "chosen", kit.SumOf(t.project, t.plan), t.tiles.Seed, t.ask.Flips)
	if err != nil {
		return err
	}
	t.ask.Student, t.ask.Seed = "", strconv.FormatUint(best.Seed, 10)
	http.Redirect(w, r, kit.ProjectPath(t.project)+"/finish/tiles?"+t.printed(t.ask.query()).Encode(), http.StatusSeeOther)
	return nil
}

// tileView is what the page shows.
type tileView struct {
	head
	Ask tileAsk
	Map tiles.Map
	drawnTiles
	Students   []kit.Option
	Restored   template.URL // the picture of a photo put back together
	Cautions   []string
	HasStudent bool
}

// drawnTiles is what is reckoned once.
type drawnTiles struct {
	Source  template.HTML // where the tiles come from
	Drawn   template.HTML // and where they go
	Result  template.HTML // the picture rearranged
	Lines   template.HTML // its lines with their loose ends
	Borders tiles.Borders
	Before  colour.Balance // of the picture as it is
	After   colour.Balance // and rearranged
	Spread  []spread
	Filled  template.HTML // the areas of the rearrangement in patterns
}

// spread is how one colour lies in the picture, and where the tiles carry it.
type spread struct {
	colour.Main
	Now string
}

func (a area) tileView(t arranged) (v tileView, err error) {
	v = tileView{head: t.newHead("/tiles", t.ask.query()), Ask: t.ask, Map: t.tiles, Cautions: lesson.Cautions(lesson.Scissors, lesson.Knife)}
	options := []string{"", "nobody’s: by its number"}
	if t.project.Class != nil {
		for _, s := range t.project.Class.Students {
			options = append(options, strconv.FormatUint(s.ID, 10), s.Name)
			v.HasStudent = true
		}
	}
	v.Students = kit.Pick(t.ask.Student, options...)
	v.drawnTiles, err = kit.Once(a.Kit, t.drawn, kit.SumOf(t.project, t.plan), fmt.Sprintf("%+v", t.tiles))
	return v, err
}

// drawn draws an arrangement.
func (t arranged) drawn() (d drawnTiles, err error) {
	if d.Source, err = t.inline(sheet.TileSource(t.plan)); err != nil {
		return d, err
	}
	if d.Drawn, err = t.inline(sheet.TileMap(t.plan, t.tiles)); err != nil {
		return d, err
	}
	if d.Result, err = t.inline(sheet.TilePreview(t.plan, t.tiles)); err != nil {
		return d, err
	}
	laid, borders, err := t.rearranged()
	if err != nil {
		return d, err
	}
	d.Borders = borders
	if d.Lines, err = t.inline(sheet.TileLines(t.plan, laid, borders)); err != nil {
		return d, err
	}
	return d, t.judge(&d, laid)
}

// judge looks at the rearranged picture as at any other: where its dark is heaviest, how its
// colours lie, and which patterns suit its areas.
func (t arranged) judge(d *drawnTiles, laid [][]plane.Point) error {
	img := t.tiles.Arrange(t.image, t.plan)
	d.Before, d.After = colour.Weigh(t.image), colour.Weigh(img)
	mains := colour.Mains(t.image)
	for i, f := range colour.Look(img, mains) {
		now := mains[i]
		now.Even, now.Fields = f.Even, f.Fields
		d.Spread = append(d.Spread, spread{mains[i], now.Spread()})
	}
	patterns, err := t.patterns(img, laid, d.Borders)
	if err != nil {
		return err
	}
	d.Filled, err = t.inline(sheet.PatternMap(patterns))
	return err
}

// patterns fills the areas of the rearranged picture.
func (t arranged) patterns(img *image.RGBA, laid [][]plane.Point, borders tiles.Borders) (core.Patterns, error) {
	drawing := t.project.Picture.LineDrawing()
	if drawing { // its areas are those of when every line is closed
		img = render.Pixels(sheet.TileClosed(t.plan, laid, borders), float64(t.image.Rect.Dx())/t.plan.Reference.Width, nil)
	}
	patterns, err := core.NewPatterns(img, t.perMM, t.plan, drawing)
	if err != nil {
		return patterns, kit.Ask("%s", kit.Said(err))
	}
	return patterns, nil
}

// showTiles shows an arrangement, or with what to mend the form alone.
func (a area) showTiles(w http.ResponseWriter, r *http.Request) error {
	t, err := a.arranged(r)
	if trouble, mendable := err.(kit.Trouble); mendable && t.image != nil {
		v := tileView{head: t.newHead("/tiles", t.ask.query()), Ask: t.ask}
		v.Trouble = trouble.Message
		return pages.WholeStatus(w, r, "tiles.html", t.project.Name+" · tiles", kit.StatusOf(v.Trouble), v)
	}
	if err != nil {
		return err
	}
	if r.FormValue("choose") != "" {
		return a.chosen(w, r, t)
	}
	v, err := a.tileView(t)
	if err != nil {
		return err
	}
	return pages.Whole(w, r, "tiles.html", t.project.Name+" · tiles", v)
}

// tileSet answers with all that one student needs: the old grid, the new one,
// the cards, and the lines with their loose ends.
func (a area) tileSet(w http.ResponseWriter, r *http.Request, t arranged) (err error) {
	laid, borders, err := t.rearranged()
	if err != nil {
		return err
	}
	cards, err := sheet.TileCards(t.wish, t.tiles)
	if err != nil {
		return asked(err)
	}
	var made []page.Page
	for _, drawn := range []page.Page{sheet.TileSource(t.plan), sheet.TileMap(t.plan, t.tiles), sheet.TileLines(t.plan, laid, borders)} {
		pg, err := sheet.OnPaper(t.wish, drawn)
		if err != nil {
			return asked(err)
		}
		made = append(made, pg)
	}
	made = append(append(made[:2:2], cards...), made[2])
	patterns, err := t.patterns(t.tiles.Arrange(t.image, t.plan), laid, borders)
	if err != nil {
		return err
	}
	filled, err := sheet.PatternSheet(t.wish, patterns)
	if err != nil {
		return asked(err)
	}
	made = append(made, filled...)
	return a.send(w, r, t.work, "tiles "+t.student.Name, nil, made...)
}

// tileKey answers with every student's map, for the teacher.
func (a area) tileKey(w http.ResponseWriter, r *http.Request, t arranged) (err error) {
	var all []sheet.Arrangement
	if t.project.Class != nil {
		for _, s := range t.project.Class.Students {
			m, err := tiles.Shuffle(t.plan, tiles.SeedFor(t.project.ID, s.ID), t.ask.Flips != "")
			if err != nil {
				return kit.Ask("%s", kit.Said(err))
			}
			all = append(all, sheet.Arrangement{Who: s.Name, Map: m})
		}
	}
	if all == nil {
		all = []sheet.Arrangement{{Who: fmt.Sprintf("Arrangement %d", t.tiles.Seed), Map: t.tiles}}
	}
	t.wish.Who.Name = ""
	made, err := sheet.TileKey(t.wish, all)
	if err != nil {
		return asked(err)
	}
	return a.send(w, r, t.work, "tiles key", nil, made...)
}

// drawnSide is the longer side, in pixels, of a drawing seen straight on.
const drawnSide = 1000

// restore puts a photographed rearrangement back together. The photo is looked
// at and not kept.
func (a area) restore(w http.ResponseWriter, r *http.Request) error {
	if _, err := a.Project(r); err != nil {
		return err
	}
	t, err := a.arranged(r)
	if err != nil {
		return err
	}
	v, err := a.tileView(t)
	if err != nil {
		return err
	}
	if v.Restored, err = t.restored(r); err != nil {
		trouble, mendable := err.(kit.Trouble)
		if !mendable {
			return err
		}
		v.Trouble = trouble.Message
	}
	return pages.WholeStatus(w, r, "tiles.html", t.project.Name+" · tiles", kit.StatusOf(v.Trouble), v)
}

// restored returns the picture put back together from the form's photo, or what
// to mend.
func (t arranged) restored(r *http.Request) (template.URL, error) {
	if !kit.HasFile(r, "photo") {
		return "", kit.Ask("Choose a photo of the finished rearrangement first: the whole sheet, from straight above.")
	}
	name, b, err := kit.ReadFile(r, "photo")
	if err != nil {
		return "", err
	}
	var jpg bytes.Buffer
	if b, err = intake.Sane(r.Context(), b); err != nil {
		return "", kit.Ask("“%s”: %v.", intake.Name(name), err)
	}
	err = intake.Use(r.Context(), b, func(img *image.RGBA) error {
		straight, err := t.straight(img)
		if err != nil {
			return err
		}
		return jpeg.Encode(&jpg, t.tiles.Restore(straight, t.plan), &jpeg.Options{Quality: 85})
	})
	if err != nil {
		return "", kit.Ask("“%s”: %v.", intake.Name(name), err)
	}
	return template.URL("data:image/jpeg;base64," + base64.StdEncoding.EncodeToString(jpg.Bytes())), nil
}

// straight returns the rearranged sheet of a photo seen straight on.
func (t arranged) straight(img *image.RGBA) (*image.RGBA, error) {
	shot := photo.NewShot(img)
	view, err := photo.NewView(t.plan, photo.SheetIn(shot, t.plan), photo.NewLens(img.Rect.Dx(), img.Rect.Dy(), 0))
	if err != nil {
		return nil, err
	}
	return view.Straight(shot, photo.SheetFrame(t.plan, drawnSide)), nil
}
