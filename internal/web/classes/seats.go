package classes

import (
	"fmt"
	"net/http"
	"strconv"

	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// A room has so many rows and columns of seats at most.
const seatRows, seatColumns = 10, 12

// seatsView is the page on which seats are given.
type seatsView struct {
	Class         store.Class
	Rows, Columns int
}

func (a area) showSeats(w http.ResponseWriter, r *http.Request, class store.Class) error {
	return pages.Whole(w, r, "seats.html", class.Name+" · seats", seatsView{class, seatRows, seatColumns})
}

// setSeats keeps where the class sits.
func (a area) setSeats(w http.ResponseWriter, r *http.Request, class store.Class) error {
	seats, taken := map[uint64]store.Seating{}, map[store.Seating]string{}
	for _, s := range class.Students {
		row, column := r.FormValue(fmt.Sprintf("row_%d", s.ID)), r.FormValue(fmt.Sprintf("column_%d", s.ID))
		if row == "" && column == "" {
			continue
		}
		var at store.Seating
		var bad [2]error
		at.Row, bad[0] = strconv.Atoi(row)
		at.Column, bad[1] = strconv.Atoi(column)
		if bad[0] != nil || bad[1] != nil || at.Row < 1 || at.Column < 1 || at.Row > seatRows || at.Column > seatColumns {
			return kit.AskAt(fmt.Sprintf("row_%d", s.ID), "A seat of %s is a row of 1 to %d and a column of 1 to %d, or both empty.", s.Name, seatRows, seatColumns)
		}
		if other := taken[at]; other != "" {
			return kit.AskAt(fmt.Sprintf("row_%d", s.ID), "%s and %s have the same seat, row %d, column %d. Give one of them another.", other, s.Name, at.Row, at.Column)
		}
		seats[s.ID], taken[at] = at, s.Name
	}
	if err := a.Store.SetSeats(r.Context(), kit.Owner(r), class.ID, seats); err != nil {
		return err
	}
	return kit.Go(w, r, fmt.Sprintf("/classes/%d/seats", class.ID))
}
