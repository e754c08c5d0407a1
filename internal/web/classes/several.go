package classes

import (
	"net/http"
	"slices"
	"strconv"
	"strings"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/plans"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// keepTraits keeps what is known of a student, and fits their plans to it.
func (a area) keepTraits(r *http.Request, student uint64, t store.Traits) error {
	teacher := kit.Owner(r)
	projects, err := a.Store.ProjectsOf(r.Context(), teacher, student)
	if err != nil {
		return err
	}
	return plans.Refit(r.Context(), a.Store, projects, func(s *store.Store) error { return s.DescribeStudent(r.Context(), teacher, student, t) })
}

// traitsOf returns what is known of a student.
func traitsOf(s store.Student) store.Traits {
	return store.Traits{Hand: s.Hand, Units: s.Units, Team: s.Team, Pace: s.Pace, Home: s.Home, Needs: s.Needs}
}

// changed changes what is known of those students of the address's class of whom change says
// that something did, and returns how many they are.
func (a area) changed(w http.ResponseWriter, r *http.Request, change func(store.Student, *store.Traits) bool) (n int, err error) {
	class, err := a.class(r)
	if err != nil {
		return 0, err
	}
	for _, s := range class.Students {
		t := traitsOf(s)
		if !change(s, &t) {
			continue
		}
		if err := check(t); err != nil {
			return n, err
		}
		if err := a.keepTraits(r, s.ID, t); err != nil {
			return n, err
		}
		n++
	}
	return n, nil
}

// byPace gives a class three kinds of sets in one press, by the pace that is known of each:
// who is slow gets fewer boxes and the dot sheet, who is quick more boxes; others as they are.
func (a area) byPace(w http.ResponseWriter, r *http.Request) error {
	given, err := a.changed(w, r, func(s store.Student, t *store.Traits) bool {
		needs := strings.Split(s.Needs, ", ")
		switch s.Pace {
		case "slow":
			needs = append(needs, store.NeedFewer, store.NeedDots)
		case "quick":
			needs = append(slices.DeleteFunc(needs, func(n string) bool { return n == store.NeedFewer }), store.NeedMore)
		default:
			return false
		}
		t.Needs = needsOf(needs)
		return true
	})
	if err != nil {
		return err
	}
	if given == 0 {
		return kit.Ask("Nobody in this class is marked as slow or quick. Press a name, and choose their pace first.")
	}
	return kit.Go(w, r, "/classes")
}

// several changes one thing of several students at once: their hand, pace, group, or a need
// given or taken away.
func (a area) several(w http.ResponseWriter, r *http.Request) error {
	asked := false
	given, err := a.changed(w, r, func(s store.Student, t *store.Traits) bool {
		what, value, _ := strings.Cut(r.FormValue("what"), ":")
		asked = true
		if !slices.Contains(r.Form["student"], strconv.FormatUint(s.ID, 10)) {
			return false
		}
		needs := strings.Split(s.Needs, ", ")
		switch what {
		case "hand":
			t.Hand = grid.Hand(value)
		case "pace":
			t.Pace = value
		case "team":
			t.Team = kit.Tidy(r.FormValue("team"))
		case "with":
			t.Needs = needsOf(append(needs, value))
		case "without":
			t.Needs = needsOf(slices.DeleteFunc(needs, func(n string) bool { return n == value }))
		default:
			return false
		}
		return true
	})
	if err != nil {
		return err
	}
	if given == 0 && asked {
		return kit.Ask("Tick at least one name, and choose what to change.")
	}
	return kit.Go(w, r, "/classes")
}
