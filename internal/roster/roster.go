// Package roster reads lists of students: pasted lines, CSV, XLSX, and
// OneRoster 1.1 CSV, alone or zipped. Odd rows are reported and the rest is
// read.
package roster

import (
	"archive/zip"
	"bytes"
	"cmp"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/letters"

	"golang.org/x/text/encoding/charmap"
	xunicode "golang.org/x/text/encoding/unicode"
)

// Entry is one student of a list.
type Entry struct {
	Name      string    `json:"name"` // short: a first name, and an initial where two are alike
	OutsideID string    `json:"outside_id,omitempty"`
	Class     string    `json:"class,omitempty"` // the list's own name for the class
	Team      string    `json:"team,omitempty"`
	Hand      grid.Hand `json:"hand,omitempty"`  // left or right, empty if the list does not say
	Units     string    `json:"units,omitempty"` // in or cm
	Pace      string    `json:"pace,omitempty"`  // slow or quick
	Home      string    `json:"home,omitempty"`
	Needs     string    `json:"needs,omitempty"` // with commas
}

// Head names the columns of a list of ours; reading it back changes nothing.
var Head = []string{"Short name", "Id", "Group", "Hand", "Units", "Pace", "At home", "Needs"}

// Cells returns an entry as a row under Head.
func (e Entry) Cells() []string {
	return []string{e.Name, e.OutsideID, e.Team, string(e.Hand), e.Units, e.Pace, e.Home, e.Needs}
}

// Odd is a row that could not be read, and why.
type Odd struct {
	Row int // from 1, as the list counts
	Why string
}

// List is what was read.
type List struct {
	Kind    string // what it was taken for
	Entries []Entry
	Odd     []Odd
	Columns []Column   // what each column was taken for; none in a OneRoster archive
	Rows    [][]string // as they came, so that the list may be read again in another way

	as As
}

// ErrList is wrapped by the error of a file that is no list.
var ErrList = errors.New("not a list of students")

// MostRows bounds what is read: a large school.
const MostRows = 20_000

// LongestName bounds a name and a group, in letters.
const LongestName = 40

// LongestHome bounds what is at home, in letters.
const LongestHome = 120

// As is how a list is to be read, where somebody has said so.
type As struct {
	Columns []string // what each means, in their order; none for what their heads say
	Heads   bool     // the first row holds heads, whatever it says
	Whole   bool     // names are kept whole, not cut to first names
	All     bool     // rows that look like no student's, or stand there twice, are students too
}

// Read reads a list by what is in it, whatever it is called.
func Read(b []byte, as As) (List, error) {
	if len(bytes.TrimSpace(b)) == 0 {
		return List{}, fmt.Errorf("%w: it is empty", ErrList)
	}
	if bytes.HasPrefix(b, []byte("PK\x03\x04")) {
		return zipped(b, as)
	}
	text, err := decode(b)
	if err != nil {
		return List{}, err
	}
	return table(text, as)
}

// decode returns text in UTF-8: from UTF-16 with its mark, else from
// Windows-1252 where it is not UTF-8 already.
func decode(b []byte) (string, error) {
	switch {
	case bytes.HasPrefix(b, []byte{0xff, 0xfe}), bytes.HasPrefix(b, []byte{0xfe, 0xff}):
		out, err := xunicode.UTF16(xunicode.LittleEndian, xunicode.UseBOM).NewDecoder().Bytes(b)
		if err != nil {
			return "", fmt.Errorf("%w: its letters cannot be read; save it as UTF-8", ErrList)
		}
		return string(out), nil
	case bytes.IndexByte(b, 0) >= 0:
		return "", fmt.Errorf("%w: it is no text; save it as CSV or XLSX", ErrList)
	case utf8.Valid(b):
		return strings.TrimPrefix(string(b), "\ufeff"), nil
	}
	out, err := charmap.Windows1252.NewDecoder().Bytes(b)
	return string(out), err
}

// table reads lines with commas, semicolons or tabs, or names alone.
func table(text string, as As) (List, error) {
	first, _, _ := strings.Cut(text, "\n")
	r := csv.NewReader(strings.NewReader(text))
	r.FieldsPerRecord, r.LazyQuotes, r.TrimLeadingSpace = -1, true, true
	for _, comma := range []rune{'\t', ';'} {
		if strings.Count(first, string(comma)) > strings.Count(first, ",") {
			r.Comma = comma
		}
	}
	var rows [][]string
	for {
		row, err := r.Read()
		if err == io.EOF {
			break
		}
		if err != nil {
			return List{}, fmt.Errorf("%w: row %d cannot be read; look for a quotation mark that is never closed", ErrList, len(rows)+1)
		}
		if len(rows) >= MostRows {
			return List{}, fmt.Errorf("%w: it has more than %d rows", ErrList, MostRows)
		}
		rows = append(rows, row)
	}
	return fromRows(rows, "CSV", as)
}

// zipped reads XLSX, or OneRoster's files in one archive.
func zipped(b []byte, as As) (List, error) {
	z, err := zip.NewReader(bytes.NewReader(b), int64(len(b)))
	if err != nil {
		return List{}, fmt.Errorf("%w: the file is damaged or cut off", ErrList)
	}
	for _, f := range z.File {
		if f.Name == "[Content_Types].xml" {
			return workbook(b, as)
		}
	}
	return oneRoster(z)
}

// read reads one row. Rows of others than active students are passed over.
func (l *List) read(row []string, heads map[string]int, number int) {
	get := func(column string) string {
		i, ok := heads[column]
		if !ok || i >= len(row) {
			return ""
		}
		return clean(row[i])
	}
	if role := strings.ToLower(get("role")); role != "" && role != "student" {
		return
	}
	if strings.EqualFold(get("status"), "tobedeleted") {
		return
	}
	e := Entry{Name: short(get("short")), OutsideID: get("id"), Class: get("class"),
		Team: l.within(get("team"), number, "group", LongestName),
		Home: l.within(get("home"), number, "words for at home", LongestHome), Needs: get("needs")}
	e.Units, e.Pace = l.oneOf(get("units"), number, "units", "in", "cm"), l.oneOf(get("pace"), number, "pace", "slow", "quick")
	e.Name = named(cmp.Or(e.Name, get("name"), strings.TrimSpace(get("given")+" "+get("family"))))
	if yes.MatchString(get("left")) {
		e.Hand = grid.LeftHand
	}
	switch hand := strings.ToLower(get("hand")); hand {
	case "", "right", "r":
	case "left", "l":
		e.Hand = grid.LeftHand
	default:
		l.Odd = append(l.Odd, Odd{number, fmt.Sprintf("the hand is %q; read as right", hand)})
	}
	switch why := l.odd(e, get("short") != ""); {
	case e.Name == "" && strings.TrimSpace(strings.Join(row, "")) == "":
	case why != "":
		l.Odd = append(l.Odd, Odd{number, why})
	default:
		l.Entries = append(l.Entries, e)
	}
}

// odd says why a row is taken for no student; nothing where it is one.
func (l *List) odd(e Entry, called bool) string {
	switch {
	case e.Name == "":
		return "no name"
	case !l.as.All && !called && !strings.ContainsFunc(e.Name, unicode.IsLetter):
		return fmt.Sprintf("“%s” has no letters and is taken for no name", short(e.Name))
	case !l.as.All && nobody.MatchString(e.Name):
		return fmt.Sprintf("“%s” is taken for no student", short(e.Name))
	case !l.as.All && slices.Contains(l.Entries, e):
		return fmt.Sprintf("“%s” stands there twice, all alike; the second is left out", short(e.Name))
	case len([]rune(e.OutsideID)) > 80:
		return "the id is longer than 80 letters"
	}
	return ""
}

// named returns the name of a line that may be numbered, stand behind a bullet or be an address of e-mail.
func named(line string) string {
	line = counted.ReplaceAllString(bullet.ReplaceAllString(line, ""), "")
	address := email.FindString(line)
	if address == "" {
		return line
	}
	if rest := strings.Trim(strings.Replace(line, address, "", 1), " <>()[],;\""); rest != "" {
		return rest
	}
	before, _, _ := strings.Cut(address, "@")
	words := strings.FieldsFunc(before, func(r rune) bool { return r == '.' || r == '_' || r == '-' || r == '+' || unicode.IsDigit(r) })
	for i, w := range words {
		first, size := utf8.DecodeRuneInString(w)
		words[i] = string(unicode.ToUpper(first)) + w[size:]
	}
	return strings.Join(words, " ")
}

// clean keeps one line of what can be written.
func clean(s string) string {
	s = strings.Map(func(r rune) rune {
		if r == utf8.RuneError || unicode.IsControl(r) {
			return ' '
		}
		return r
	}, s)
	s = strings.Join(strings.Fields(s), " ")
	if len(s) > 1 && s[0] == '\'' && strings.ContainsRune("=+-@", rune(s[1])) {
		s = s[1:] // so written that no spreadsheet takes it for a formula
	}
	return s
}

// within returns a cell's words, or nothing where they are too long; that row is odd.
func (l *List) within(words string, row int, what string, most int) string {
	if n := len([]rune(words)); n > most {
		l.Odd = append(l.Odd, Odd{row, fmt.Sprintf("the %s of %d letters is left out; at most %d", what, n, most)})
		return ""
	}
	return words
}

// oneOf returns a cell's word, or nothing for one that is not known; that row is odd.
func (l *List) oneOf(word string, row int, what string, known ...string) string {
	word = strings.ToLower(word)
	if word == "" || word == "usual" || slices.Contains(known, word) {
		return strings.TrimSuffix(word, "usual")
	}
	l.Odd = append(l.Odd, Odd{row, fmt.Sprintf("the %s is %q; left as usual", what, word)})
	return ""
}

// shorten keeps names of young people short: the first name, with as much of
// the family name as tells two apart; a third of the same name is numbered.
func (l *List) shorten() {
	if l.as.Whole {
		for i, e := range l.Entries {
			l.Entries[i].Name = whole(e.Name)
		}
		l.number()
		return
	}
	first := map[string]int{}
	for _, e := range l.Entries {
		first[given(e.Name)]++
	}
	for i, e := range l.Entries {
		name := given(e.Name)
		rest := strings.TrimSpace(strings.TrimPrefix(e.Name, name))
		if initial, size := utf8.DecodeRuneInString(rest); size > 0 && first[name] > 1 {
			name += " " + string(initial)
		}
		l.Entries[i].Name = name
	}
	l.number()
}

// number tells names apart that are one.
func (l *List) number() {
	taken := map[string]int{}
	for i, e := range l.Entries {
		name := short(e.Name)
		if taken[name]++; taken[name] > 1 {
			name = short(fmt.Sprintf("%s %d", name, taken[name]))
		}
		l.Entries[i].Name = name
	}
}

func short(name string) string { return letters.Cut(name, LongestName) }

// whole returns “Family, Given” as “Given Family”.
func whole(name string) string {
	before, after, comma := strings.Cut(name, ",")
	if after = strings.TrimSpace(after); !comma || after == "" {
		return name
	}
	return after + " " + strings.TrimSpace(before)
}

// given returns the first name; of “Family, Given” the second part.
func given(name string) string {
	if _, after, comma := strings.Cut(name, ","); comma && strings.TrimSpace(after) != "" {
		name = strings.TrimSpace(after)
	}
	first, _, _ := strings.Cut(name, " ")
	return first
}

// Plain reports whether a list is names, one a line of the text it was read from, as they stand there.
func (l List) Plain(text string) bool {
	var names []string
	for line := range strings.Lines(text) {
		if name := clean(line); name != "" {
			names = append(names, name)
		}
	}
	return len(l.Odd) == 0 && slices.EqualFunc(names, l.Entries, func(name string, e Entry) bool { return e == Entry{Name: name} })
}

// Classes returns the list's own classes, in their order.
func (l List) Classes() (names []string) {
	seen := map[string]bool{}
	for _, e := range l.Entries {
		if e.Class != "" && !seen[e.Class] {
			seen[e.Class] = true
			names = append(names, e.Class)
		}
	}
	return names
}
