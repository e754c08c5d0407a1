// Package tiles sets the tiles of a gridded picture into other places of the
// same grid: nothing stays at home, former neighbours part, and every tile goes
// where its size fits.
package tiles

import (
	"errors"
	"fmt"
	"math"
	"math/rand/v2"

	"zestysketch/internal/core/grid"
)

// Slot is one place of the new grid and the tile that is set there.
type Slot struct {
	Label string `json:"place"`
	Tile  string `json:"tile"`     // where it was
	Turn  int    `json:"turn_deg"` // clockwise: 0, 90, 180 or 270
	Flip  bool   `json:"flip"`     // mirrored left to right first, as tracing paper laid face down does
}

// Map is a whole rearrangement.
type Map struct {
	Seed    uint64      `json:"seed"`
	Places  []Slot      `json:"places"` // row by row
	Stay    []string    `json:"stay"`   // tiles that fit nowhere else
	Touch   [][2]string `json:"touch"`  // former neighbours that still lie side by side, where it cannot be helped
	Message string      `json:"message,omitempty"`
}

// ErrGrid is wrapped by the error of a grid that has nothing to rearrange.
var ErrGrid = errors.New("nothing to rearrange")

// Tries and swaps bound the search: enough for any grid that has an answer.
const tries, swaps = 40, 4000

// Shuffle returns the rearrangement of a plan's grid that belongs to a seed:
// the same seed gives the same map. Flips are used only where they are wanted.
func Shuffle(p grid.Plan, seed uint64, flips bool) (Map, error) {
	if p.Count() < 2 {
		return Map{}, fmt.Errorf("%w: a grid of one box has no other place for its tile; divide the picture into more boxes", ErrGrid)
	}
	s := newSearch(p, rand.New(rand.NewPCG(seed, 0x7a657374)))
	best, least := []int(nil), math.MaxInt
	for range tries {
		tile, cost := s.run()
		if cost < least {
			best, least = tile, cost
		}
		if least == 0 {
			break
		}
	}
	return s.describe(p, seed, best, flips), nil
}

// search looks for a permutation of tiles.
type search struct {
	columns, rows int
	class         []int   // of every place: those of one class exchange tiles
	of            [][]int // places by class
	rng           *rand.Rand
}

func newSearch(p grid.Plan, rng *rand.Rand) *search {
	s := &search{columns: p.Grid.Columns, rows: p.Grid.Rows, class: make([]int, p.Count()), rng: rng}
	known := map[[2]int64]int{}
	for i, c := range p.Cells() {
		size := sizeOf(c)
		if size[0] > size[1] {
			size[0], size[1] = size[1], size[0] // a tile may be turned
		}
		k, ok := known[size]
		if !ok {
			k = len(s.of)
			known[size] = k
			s.of = append(s.of, nil)
		}
		s.class[i] = k
		s.of[k] = append(s.of[k], i)
	}
	return s
}

// sizeOf returns a box's sides in thousandths of a millimetre, to be compared.
func sizeOf(c grid.Cell) [2]int64 {
	um := func(mm float64) int64 { return int64(math.Round(mm * 1000)) }
	return [2]int64{um(c.Sheet.Width()), um(c.Sheet.Height())}
}

// run shuffles each class and mends by swaps: a place that has a fault changes
// with another of its class where that leaves fewer, or sometimes as many
// (min-conflicts, Minton and others 1992, Artificial Intelligence 58).
func (s *search) run() (tile []int, cost int) {
	tile = make([]int, len(s.class))
	for _, places := range s.of {
		order := s.rng.Perm(len(places))
		for i, p := range places {
			tile[p] = places[order[i]]
		}
	}
	cost = s.faults(tile)
	for range swaps {
		if cost == 0 {
			break
		}
		a := s.faulty(tile)
		others := s.of[s.class[a]]
		b := others[s.rng.IntN(len(others))]
		if a == b {
			continue
		}
		before := s.around(tile, a, b)
		tile[a], tile[b] = tile[b], tile[a]
		if change := s.around(tile, a, b) - before; change <= 0 || s.rng.IntN(200) == 0 {
			cost += change
		} else {
			tile[a], tile[b] = tile[b], tile[a]
		}
	}
	return tile, s.faults(tile)
}

// atHome weighs a tile that stays as more than two neighbours that touch.
const atHome = 3

// fault returns what is wrong at one place: a tile at home that could move,
// and former neighbours right of it and below.
func (s *search) fault(tile []int, i int) (n int) {
	if tile[i] == i && len(s.of[s.class[i]]) > 1 {
		n = atHome
	}
	if x := i % s.columns; x+1 < s.columns && s.neighbours(tile[i], tile[i+1]) {
		n++
	}
	if i+s.columns < len(tile) && s.neighbours(tile[i], tile[i+s.columns]) {
		n++
	}
	return n
}

func (s *search) neighbours(a, b int) bool {
	ax, ay, bx, by := a%s.columns, a/s.columns, b%s.columns, b/s.columns
	return max(ax-bx, bx-ax)+max(ay-by, by-ay) == 1
}

func (s *search) faults(tile []int) (n int) {
	for i := range tile {
		n += s.fault(tile, i)
	}
	return n
}

// around counts the faults that two places have a part in.
func (s *search) around(tile []int, a, b int) (n int) {
	seen := [6]int{a, b, a - 1, a - s.columns, b - 1, b - s.columns}
	for k, i := range seen {
		known := false
		for _, j := range seen[:k] {
			known = known || i == j
		}
		if i >= 0 && !known {
			n += s.fault(tile, i)
		}
	}
	return n
}

// faulty returns a place with a fault, any one.
func (s *search) faulty(tile []int) int {
	from := s.rng.IntN(len(tile))
	for k := range tile {
		if i := (from + k) % len(tile); s.fault(tile, i) > 0 {
			return i
		}
	}
	return from
}

// describe turns a permutation into a map, each tile turned as its shape allows.
func (s *search) describe(p grid.Plan, seed uint64, tile []int, flips bool) Map {
	m := Map{Seed: seed, Stay: []string{}, Touch: [][2]string{}}
	cells := p.Cells()
	for i, t := range tile {
		from, to := sizeOf(cells[t]), sizeOf(cells[i])
		turns := []int{0, 180}
		switch {
		case from[0] == from[1]:
			turns = []int{0, 90, 180, 270}
		case from != to:
			turns = []int{90, 270}
		}
		place := Slot{Label: cells[i].Label, Tile: cells[t].Label, Turn: turns[s.rng.IntN(len(turns))], Flip: flips && s.rng.IntN(2) == 1}
		m.Places = append(m.Places, place)
		if t == i {
			m.Stay = append(m.Stay, cells[i].Label)
		}
		if x := i % s.columns; x+1 < s.columns && s.neighbours(t, tile[i+1]) {
			m.Touch = append(m.Touch, [2]string{cells[t].Label, cells[tile[i+1]].Label})
		}
		if i+s.columns < len(tile) && s.neighbours(t, tile[i+s.columns]) {
			m.Touch = append(m.Touch, [2]string{cells[t].Label, cells[tile[i+s.columns]].Label})
		}
	}
	switch {
	case len(m.Stay) > 0 && len(m.Touch) > 0:
		m.Message = "Some tiles fit nowhere else, and some former neighbours still touch: the grid has too few boxes of one size. More boxes, or equal parts, help."
	case len(m.Stay) > 0:
		m.Message = "Tiles of a size of their own stay where they are. Equal parts leave no remainder."
	case len(m.Touch) > 0:
		m.Message = "Some former neighbours still touch: the grid is too small to part them all. More boxes help."
	}
	return m
}
