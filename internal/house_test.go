// Package internal_test holds the rule of the house: arrows go one way, and the
// picture in docs/architecture.svg shows them as they are.
package internal_test

import (
	"bytes"
	"flag"
	"fmt"
	"go/parser"
	"go/token"
	"io/fs"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"testing"
)

// floors are the rooms of the house from the roof down: a room may use those on
// lower floors, and on its own those that stand before it.
var floors = [][]string{
	{"cmd"},
	{"demo", "web", "trial"},
	{"press", "archive", "checkin", "room", "records", "backup"},
	{"plans", "intake", "roster", "work", "starters"},
	{"cluster", "store", "mariadb", "render"},
	{"core", "letters", "watch", "reach", "identity", "notices", "ports", "process"},
}

var draw = flag.Bool("draw", false, "draw docs/architecture.svg anew")

// roomOf returns the room of a package's path below the module, empty for none.
func roomOf(path string) string {
	path = strings.TrimPrefix(path, "internal/")
	room, _, _ := strings.Cut(path, "/")
	return room
}

// arrows returns which room uses which.
func arrows(t *testing.T) map[string]map[string]bool {
	t.Helper()
	uses := map[string]map[string]bool{}
	for _, top := range []string{"../cmd", "."} {
		err := filepath.WalkDir(top, func(path string, d fs.DirEntry, err error) error {
			if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") || strings.HasSuffix(filepath.Dir(path), "test") {
				return err
			}
			room := roomOf(filepath.ToSlash(filepath.Dir(strings.TrimPrefix(path, "../"))))
			if room == "browser" { // for tests and screenshots alone
				return nil
			}
			file, err := parser.ParseFile(token.NewFileSet(), path, nil, parser.ImportsOnly)
			if err != nil {
				return err
			}
			if uses[room] == nil {
				uses[room] = map[string]bool{}
			}
			for _, spec := range file.Imports {
				name, _ := strconv.Unquote(spec.Path.Value)
				if used, ours := strings.CutPrefix(name, "zestysketch/"); ours && roomOf(used) != room {
					uses[room][roomOf(used)] = true
				}
			}
			return nil
		})
		if err != nil {
			t.Fatal(err)
		}
	}
	return uses
}

// place returns a room's floor and place on it, -1 where it has none.
func place(room string) (floor, at int) {
	for floor, rooms := range floors {
		if at := slices.Index(rooms, room); at >= 0 {
			return floor, at
		}
	}
	return -1, -1
}

func TestArrowsGoDown(t *testing.T) {
	for room, used := range arrows(t) {
		floor, at := place(room)
		if floor < 0 {
			t.Errorf("%s stands on no floor", room)
			continue
		}
		for other := range used {
			f, a := place(other)
			if f < floor || f == floor && a > at {
				t.Errorf("%s uses %s, which stands above or after it", room, other)
			}
		}
	}
}

// does says what a room is for, on the picture.
var does = map[string]string{
	"cmd": "one binary", "web": "a folder for each area", "demo": "a made-up school", "trial": "load and clusters, tried", "room": "the class at work",
	"checkin": "photos taken in", "press": "class sets", "records": "all of one student",
	"backup": "everything in one file", "archive": "a project as a file", "plans": "who draws by which plan",
	"intake": "uploads", "roster": "lists of students", "starters": "pictures to begin with",
	"store": "models and queries", "mariadb": "the private server", "render": "pages as PDF, SVG, PNG", "core": "the rules, pure", "letters": "words cut by letters",
	"work": "jobs and their worker", "cluster": "one of several servers", "watch": "health, metrics, disks",
	"notices": "licences that ship", "ports": "free ones for servers", "reach": "addresses, certificates", "identity": "accounts elsewhere",
}

const wide, high, gapX, gapY = 170, 54, 20, 62

// across returns how wide so many boxes side by side are.
func across(boxes int) int { return boxes*(wide+gapX) - gapX }

// widest returns how wide the longest floor is.
func widest() int {
	return across(len(slices.MaxFunc(floors, func(a, b []string) int { return len(a) - len(b) })))
}

func corner(room string) (x, y int) {
	floor, at := place(room)
	return (widest()-across(len(floors[floor])))/2 + at*(wide+gapX) + 20, floor*(high+gapY) + 20
}

// picture draws the house: a box a room, a line for every use.
func picture(uses map[string]map[string]bool) []byte {
	var out bytes.Buffer
	w, h := widest()+40, len(floors)*(high+gapY)-gapY+40
	fmt.Fprintf(&out, "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 %d %d\" font-family=\"Georgia, serif\" role=\"img\" aria-label=\"The house: which room uses which\">\n", w, h)
	fmt.Fprintf(&out, "<rect width=\"%d\" height=\"%d\" fill=\"#faf5e8\"/>\n", w, h)
	for _, room := range slices.Sorted(maps.Keys(uses)) {
		x, y := corner(room)
		for _, other := range slices.Sorted(maps.Keys(uses[room])) {
			ox, oy := corner(other)
			from, to := fmt.Sprintf("%d %d", x+wide/2, y+high), fmt.Sprintf("%d %d", ox+wide/2, oy)
			if y == oy {
				from, to = fmt.Sprintf("%d %d", x, y+high/2), fmt.Sprintf("%d %d", ox+wide, oy+high/2)
			}
			fmt.Fprintf(&out, "<path d=\"M%sL%s\" stroke=\"#9a5b00\" opacity=\".45\"><title>%s uses %s</title></path>\n", from, to, room, other)
		}
	}
	for _, rooms := range floors {
		for _, room := range rooms {
			x, y := corner(room)
			fmt.Fprintf(&out, "<rect x=\"%d\" y=\"%d\" width=\"%d\" height=\"%d\" rx=\"7\" fill=\"#fffdf6\" stroke=\"#22302a\" stroke-width=\"2\"/>\n", x, y, wide, high)
			fmt.Fprintf(&out, "<text x=\"%d\" y=\"%d\" font-size=\"17\" font-weight=\"bold\" fill=\"#1d4a2e\">%s</text>\n", x+12, y+24, room)
			fmt.Fprintf(&out, "<text x=\"%d\" y=\"%d\" font-size=\"12\" fill=\"#22302a\">%s</text>\n", x+12, y+42, does[room])
		}
	}
	out.WriteString("</svg>\n")
	return out.Bytes()
}

// The picture of the house is as the house is; go test ./internal -draw draws it anew.
func TestArchitecturePicture(t *testing.T) {
	const file = "../docs/architecture.svg"
	want := picture(arrows(t))
	if *draw {
		if err := os.WriteFile(file, want, 0o644); err != nil {
			t.Fatal(err)
		}
	}
	got, err := os.ReadFile(file)
	if err != nil || !bytes.Equal(got, want) {
		t.Errorf("docs/architecture.svg does not show the house as it is (%v); draw it anew: go test ./internal -draw", err)
	}
}
