package wall

import (
	"html/template"
	"maps"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/letters"
	"zestysketch/internal/room"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// logView is what was done, lesson by lesson.
type logView struct {
	Project store.Project
	Rail    kit.Rail
	Words   string
	Days    []logDay
}

// logDay is one day of the log, the newest first.
type logDay struct {
	Date  string        // 2006-01-02
	On    string        // in words
	Boxes int           // drawn by everyone
	Drawn template.HTML // when in the day; empty for less than two
	Away  []string
	Notes []logNote
	Done  []string // who did what, where colleagues do
}

type logNote struct {
	store.Note
	Who string // empty for the lesson
}

// longestSearch bounds what is looked for, in bytes.
const longestSearch = 100

func (a area) showLog(w http.ResponseWriter, r *http.Request, work *room.Room) (err error) {
	words := r.URL.Query().Get("words")
	words = kit.Tidy(letters.Cut(words, longestSearch))
	notes, err := a.Store.Notes(r.Context(), work.Project.ID, 0, words)
	if err != nil {
		return err
	}
	v := logView{Project: work.Project, Rail: kit.NewRail(work.Project, kit.StepDraw), Words: words}
	days := map[string]*logDay{}
	day := func(date string) *logDay {
		if days[date] == nil {
			days[date] = &logDay{Date: date}
		}
		return days[date]
	}
	names := map[uint64]string{}
	for _, s := range work.Students {
		names[s.ID] = s.Name
	}
	for _, n := range notes {
		one := logNote{Note: n}
		if n.StudentID != nil {
			one.Who = names[*n.StudentID]
		}
		d := day(work.Clock.Date(n.CreatedAt))
		d.Notes = append(d.Notes, one)
	}
	if words == "" {
		if err := a.dayFacts(r, work, day); err != nil {
			return err
		}
	}
	for _, date := range slices.Backward(slices.Sorted(maps.Keys(days))) { // dates of this form sort as words
		on, err := time.Parse(time.DateOnly, date)
		if err != nil {
			return err
		}
		days[date].On = work.Clock.Written(on)
		v.Days = append(v.Days, *days[date])
	}
	return pages.Whole(w, r, "log.html", work.Project.Name+" · log", v)
}

// dayFacts adds what was drawn on each day, and who was away.
func (a area) dayFacts(r *http.Request, work *room.Room, day func(string) *logDay) error {
	var ids []uint64
	minutes := map[string][]int{}
	for _, s := range work.Students {
		ids = append(ids, s.ID)
		for _, t := range work.Ticks(s.ID) {
			date, at := work.Clock.Date(t.TickedAt), work.Clock.At(t.TickedAt)
			day(date).Boxes++
			minutes[date] = append(minutes[date], 60*at.Hour()+at.Minute())
		}
	}
	for date, of := range minutes {
		if len(of) < 2 {
			continue
		}
		var err error
		if day(date).Drawn, err = kit.InlineSVG(sheet.LessonTicks(of), nil); err != nil {
			return err
		}
	}
	if err := a.whoDid(r, work, day); err != nil {
		return err
	}
	absences, err := a.Store.Absences(r.Context(), ids)
	for _, s := range work.Students {
		for _, date := range absences[s.ID] {
			d := day(date)
			d.Away = append(d.Away, s.Name)
		}
	}
	return err
}

// whoDid adds who did what, where others than its owner work in the project.
func (a area) whoDid(r *http.Request, work *room.Room, day func(string) *logDay) error {
	done, err := a.Store.AuditLogIn(r.Context(), work.Project.ID)
	if err != nil || !slices.ContainsFunc(done, func(d store.AuditEntry) bool { return d.TeacherID != nil && *d.TeacherID != work.Project.TeacherID }) {
		return err
	}
	for _, d := range done {
		on, words := day(work.Clock.Date(d.At)), d.Who+" "+d.Words
		if !slices.Contains(on.Done, words) {
			on.Done = append(on.Done, words)
		}
	}
	return nil
}

// addLog writes a note of the lesson, with a photo if there is one.
func (a area) addLog(w http.ResponseWriter, r *http.Request, p store.Project) error {
	n := store.Note{ProjectID: p.ID, Words: kit.Tidy(r.FormValue("words")), ByWhom: kit.Teacher(r).Name}
	if n.Words == "" || len([]rune(n.Words)) > 1000 {
		return kit.AskAt("words", "Write a note of at most 1000 letters.")
	}
	if kit.HasFile(r, "photo") {
		picture, err := a.TakePicture(r, "photo", store.ForCheckIn)
		if err != nil {
			return err
		}
		n.PictureID = &picture.ID
	}
	if err := a.Store.AddNote(r.Context(), p.TeacherID, &n); err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(p)+"/log")
}

// changeNote rewrites a note, of the lesson or of a student, or deletes it with its photo.
func (a area) changeNote(w http.ResponseWriter, r *http.Request, id uint64) (err error) {
	words := kit.Tidy(r.FormValue("words"))
	if r.FormValue("remove") != "" {
		words = ""
	} else if words == "" || len([]rune(words)) > 1000 {
		return kit.AskAt("words", "Write a note of at most 1000 letters, or delete it.")
	}
	n, err := a.Store.ChangeNote(r.Context(), kit.Owner(r), id, words)
	if err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(store.Project{ID: n.ProjectID})+"/log")
}

// materialsView is what a class needs for the road, and what to buy.
type materialsView struct {
	Project  store.Project
	Rail     kit.Rail
	Students int
	Buy      []shopping   // what is to buy, by shop
	Enough   []supplyView // what there is enough of
	Cost     string
	Currency string
	Cut      []string // how to cut the paper
	Cautions []string
}

// shopping is what one shop has.
type shopping struct {
	Shop  string
	Needs []supplyView
}

type supplyView struct {
	lesson.Supply
	At    int // in the road's list
	Have  int
	Price string
	Buy   int
}

func (a area) materials(w http.ResponseWriter, r *http.Request, p store.Project, plan grid.Plan) (err error) {
	v := materialsView{Project: p, Rail: kit.NewRail(p, kit.StepDraw), Currency: kit.Teacher(r).School.Currency}
	if p.Class != nil {
		v.Students = len(p.Class.Students)
	}
	have, err := a.Store.Cupboard(r.Context(), kit.Teacher(r).SchoolID)
	if err != nil {
		return err
	}
	cents := 0
	sheets := max(1, v.Students)
	for _, shop := range lesson.Shops {
		v.Buy = append(v.Buy, shopping{Shop: shop})
	}
	for i, s := range p.EffectiveRoad().MarkedBy(plan.Ruler.Way).Supplies(v.Students) {
		if s.Name == "drawing paper" {
			sheets = max(sheets, s.Need) // the same spare ones are cut
		}
		c := have[s.Name]
		one := supplyView{Supply: s, At: i, Have: c.Have, Buy: max(0, s.Need-c.Have)}
		if c.PriceCents > 0 {
			one.Price = strconv.FormatFloat(float64(c.PriceCents)/100, 'f', 2, 64)
		}
		cents += one.Buy * c.PriceCents
		if one.Buy == 0 {
			v.Enough = append(v.Enough, one)
			continue
		}
		k := slices.Index(lesson.Shops, s.Shop())
		v.Buy[k].Needs = append(v.Buy[k].Needs, one)
	}
	v.Buy = slices.DeleteFunc(v.Buy, func(s shopping) bool { return len(s.Needs) == 0 })
	v.Cost = strconv.FormatFloat(float64(cents)/100, 'f', 2, 64)
	if plan.CutOut() {
		stock := measure.Paper{Name: plan.StockSize().Text(plan.Units), Size: plan.StockSize()}
		if c, ok := measure.Cut(stock, plan.SheetSize(), sheets); ok {
			v.Cut = append([]string{strconv.Itoa(c.Sheets) + " sheets of " + stock.Name + ", each gives " + strconv.Itoa(c.PerSheet())}, c.Words(plan.Units)...)
			v.Cautions = lesson.Cautions(lesson.Trimmer)
		}
	}
	return pages.Whole(w, r, "materials.html", p.Name+" · materials", v)
}

// setStock keeps what is in the cupboard and what things cost.
func (a area) setStock(w http.ResponseWriter, r *http.Request, p store.Project, plan grid.Plan) error {
	for i, s := range p.EffectiveRoad().MarkedBy(plan.Ruler.Way).Supplies(1) {
		n := strconv.Itoa(i)
		if !r.Form.Has("have" + n) {
			continue
		}
		have, err := strconv.Atoi(strings.TrimSpace(orZero(r.FormValue("have" + n))))
		price, err2 := strconv.ParseFloat(strings.ReplaceAll(strings.TrimSpace(orZero(r.FormValue("price"+n))), ",", "."), 64)
		switch {
		case err != nil || have < 0 || have > 100_000:
			return kit.AskAt("have"+n, "Wanted how many there are of “%s”, 0 to 100000.", s.Name)
		case err2 != nil || !(price >= 0 && price <= 10_000):
			return kit.AskAt("price"+n, "Wanted a price such as 1.20 for “%s”.", s.Name)
		}
		if err := a.Store.SetStock(r.Context(), store.Stock{SchoolID: kit.Teacher(r).SchoolID, Item: s.Name, Have: have, PriceCents: int(price*100 + 0.5)}); err != nil {
			return err
		}
	}
	return kit.Go(w, r, kit.ProjectPath(p)+"/materials")
}

func orZero(s string) string {
	if strings.TrimSpace(s) == "" {
		return "0"
	}
	return s
}
