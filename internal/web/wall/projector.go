package wall

import (
	"fmt"
	"math"
	"net/http"
	"strconv"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/room"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// projector is the wall for the class to see: maps without names, the clock,
// the stage, and the box that everyone does.
func (a area) projector(w http.ResponseWriter, r *http.Request, work *room.Room) (err error) {
	v := projection{Project: work.Project, Stage: mostAt(work), Unit: work.Road.Unit()}
	if v.Called, err = a.calledNow(r, work.Project); err != nil {
		return err
	}
	var tiles []tile
	for i, s := range work.Students {
		t := a.newTile(work, s, lesson.Need{})
		t.Twice = false // the teacher is told, not the class
		t.Student.Name = strconv.Itoa(i + 1)
		tiles = append(tiles, t)
		v.Done, v.All = v.Done+t.Done, v.All+t.All
	}
	v.Maps = spread(tiles)
	if cell, ok := work.Plans.Class.Find(r.URL.Query().Get("box")); ok {
		v.Box = cell.Label
	} else if asked := kit.Tidy(r.URL.Query().Get("box")); asked != "" {
		v.Asked = asked
	}
	return pages.Whole(w, r, "projector.html", work.Project.Name, v)
}

// projection is what the projector shows.
type projection struct {
	Project   store.Project
	Maps      mapRoom
	Done, All int
	Stage     lesson.Stage
	Box       string
	Asked     string // a box that there is not
	Called    called
	Unit      lesson.Unit
}

// mostAt returns the stage at which most of a class is.
func mostAt(work *room.Room) (stage lesson.Stage) {
	at, most := map[lesson.StageID]int{}, 0
	for _, s := range work.Students {
		at[work.Place(s.ID).Stage.ID]++
	}
	for _, s := range work.Road.On() {
		if at[s.ID] > most {
			most, stage = at[s.ID], s
		}
	}
	return stage
}

// mapRoom is a part of a screen that drawings' maps fill: in units of its breadth, 100.
type mapRoom struct {
	Box string
	All []placed
}

// placed is a map and where it lies.
type placed struct {
	Tile       tile
	X, Y, W, H float64
}

// A screen leaves maps a room so much broader than high, and a gap between two is such a share of their places (ours).
const screenAspect, mapGap = 2.6, 0.12

// spread lays maps in as many columns as make them largest.
func spread(tiles []tile) mapRoom {
	const wide, high = 100.0, 100.0 / screenAspect
	columns, largest := 1, 0.0
	for n := 1; n <= len(tiles); n++ {
		rows, smallest := (len(tiles)+n-1)/n, math.Inf(1)
		for _, t := range tiles {
			smallest = min(smallest, wide/float64(n*t.Width), high/float64(rows*t.Height))
		}
		if smallest > largest {
			columns, largest = n, smallest
		}
	}
	rows := (len(tiles) + columns - 1) / columns
	out := mapRoom{Box: fmt.Sprintf("0 0 %g %.1f", wide, high)}
	w, h := wide/float64(columns), high/float64(max(1, rows))
	for i, t := range tiles {
		gap := mapGap / 2 * min(w, h)
		out.All = append(out.All, placed{t, float64(i%columns)*w + gap, float64(i/columns)*h + gap, w - 2*gap, h - 2*gap})
	}
	return out
}
