package student

import (
	"errors"
	"fmt"
	"net/http"
	"strings"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// helping is what a helper at home sees: one stage, and three questions.
type helping struct {
	Link, Student, Project string
	Stage                  lesson.Stage
	Asks                   []question
	Used                   bool
}

// helper returns what a helper's link opens, and whose project it is of.
func (a area) helper(r *http.Request) (v helping, h store.HelperLink, p store.Project, err error) {
	v.Link = chi.URLParam(r, "link")
	h, err = a.Store.HelperLink(r.Context(), v.Link)
	if errors.Is(err, store.ErrNotFound) {
		if err := a.wrong(r); err != nil {
			return v, h, p, err
		}
		return v, h, p, kit.Trouble{Status: http.StatusNotFound, Message: "This link opens nothing any more. Ask the teacher for a new one."}
	}
	if err != nil {
		return v, h, p, err
	}
	if p, err = a.Store.AnyProject(r.Context(), h.ProjectID, 0); err != nil {
		return v, h, p, err
	}
	s, err := a.Store.Student(r.Context(), p.TeacherID, h.StudentID)
	if err != nil {
		return v, h, p, err
	}
	v.Stage, _ = p.EffectiveRoad().Find(h.Stage)
	v.Student, v.Project, v.Used = s.Name, p.Name, h.UsedAt != nil
	for i, words := range lesson.HelperAsks(v.Stage.Kind) {
		v.Asks = append(v.Asks, question{What: fmt.Sprintf("ask%d", i+1), Words: words})
	}
	return v, h, p, nil
}

func (a area) showHelper(w http.ResponseWriter, r *http.Request) error {
	v, _, _, err := a.helper(r)
	if err != nil {
		return err
	}
	return pages.Whole(w, r, "helper.html", "A look at "+v.Student+"’s drawing", v)
}

// help keeps what a helper says: passed where all three are yes, else what is to be mended.
func (a area) help(w http.ResponseWriter, r *http.Request) error {
	v, h, p, err := a.helper(r)
	if err != nil {
		return err
	}
	if err := kit.ReadForm(w, r); err != nil {
		return err
	}
	name := kit.Tidy(r.FormValue("name"))
	var not []string
	for _, ask := range v.Asks {
		switch r.FormValue(ask.What) {
		case "yes":
		case "no":
			not = append(not, ask.Words)
		default:
			return kit.AskAt(ask.What, "Answer each question with yes or not yet: “%s”", ask.Words)
		}
	}
	switch {
	case v.Used:
		return kit.Ask("This was answered already. Thank you; once is enough.")
	case name == "" || len([]rune(name)) > 40:
		return kit.AskAt("name", "Write your name, in at most 40 letters: it stands beside what you say.")
	}
	state, err := a.Store.RoadState(r.Context(), p.ID, h.StudentID)
	if err != nil {
		return err
	}
	verdict := store.Verdict{ProjectID: p.ID, StudentID: h.StudentID, Stage: h.Stage, Verdict: lesson.Passed, ByWhom: name + ", helper at home", Seen: state.Last(h.StudentID, h.Stage).ID}
	if len(not) > 0 {
		verdict.Verdict, verdict.Note = lesson.Again, "Not yet: "+strings.Join(not, " ")
	}
	err = a.Store.UseHelperLink(r.Context(), p.TeacherID, h, &verdict)
	if errors.Is(err, store.ErrConflict) {
		return kit.Ask("Somebody else decided meanwhile. Thank you all the same; the teacher has it.")
	}
	if err != nil {
		return err
	}
	return kit.Go(w, r, "/h/"+v.Link)
}
