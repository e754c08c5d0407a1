package roster

import (
	"fmt"
	"regexp"
	"strings"
	"unicode"
)

// Column is one column of a list and what it was taken for.
type Column struct {
	Head, Sample string
	Means        string // a Meaning's key, empty for nothing
}

// Meaning is what a column can hold.
type Meaning struct{ Key, Words string }

// Meanings lists them, with the one that is nothing first.
var Meanings = []Meaning{{"", "leave out"}, {"name", "whole name"}, {"given", "first name"}, {"family", "family name"}, {"id", "id"}, {"class", "class"},
	{"team", "group"}, {"hand", "hand"}, {"left", "left-handed: yes or no"}, {"units", "units"}, {"pace", "pace"}, {"home", "at home"}, {"needs", "needs"}, {"short", "short name, as it is"}}

// heads are the usual heads of columns, in letters and figures alone.
var heads = map[string]string{}

func init() {
	for means, words := range map[string]string{
		"name": "name student pupil learner child studentname pupilname learnername fullname students pupils names schüler schülerin nom élève alumno alumna alunno aluno naam " +
			"leerling uczeń namn elev navn öğrenci adsoyad oppilas",
		"given": "firstname givenname given forename forenames first preferredname preferredforename preferredfirstname chosenname knownas vorname prénom nombre nome " +
			"voornaam imię förnamn fornavn ad etunimi",
		"family": "lastname surname familyname family last legalsurname secondname nachname familienname nomdefamille apellido apellidos cognome apelido sobrenome achternaam " +
			"nazwisko efternamn efternavn etternavn soyad sukunimi",
		"left": "left lefthanded lefthand lefty linkshänder linkshändig gaucher gauchère zurdo zurda mancino canhoto linkshandig leworęczny vänsterhänt venstrehåndet " +
			"solak vasenkätinen",
		"id":    "id studentid pupilid learnerid sourcedid upn studentnumber pupilnumber learnernumber studentno admissionno admissionnumber admno uln uid externalid personid schoolid",
		"class": "class form tutorgroup registrationgroup reggroup reg homeroom section classname klasse classe clase turma klas klasa klass sınıf luokka",
		"team":  "group team table gruppe groupe grupo gruppo groep grupa grupp grup ryhmä", "hand": "hand handedness", "role": "role", "status": "status",
		"short": "shortname", "units": "units", "pace": "pace", "home": "athome home", "needs": "needs",
	} {
		for _, w := range strings.Fields(words) {
			heads[w] = means
		}
	}
}

// meaning returns what a head says of its column, empty for nothing known.
func meaning(head string) string {
	return heads[strings.Map(func(r rune) rune {
		if unicode.IsLetter(r) || unicode.IsDigit(r) {
			return unicode.ToLower(r)
		}
		return -1
	}, head)]
}

// titles is how many rows may stand above the heads: the school, the date, an
// empty line.
const titles = 10

// mostColumns bounds what is read of a row.
const mostColumns = 64

var (
	// counted is a number before a name: “2. Noah”, “14) Ava”; bullet is a dot or a dash there.
	counted = regexp.MustCompile(`^\d{1,3}\s*[.):]\s*|^\d{1,3}\s+`)
	bullet  = regexp.MustCompile(`^[-–—•·*‣▪o]\s+`)
	email   = regexp.MustCompile(`[^\s<>()\[\],;"@]+@[^\s<>()\[\],;"@]+`)
	// yes is what stands in a column that asks for the left hand.
	yes = regexp.MustCompile(`(?i)^(y|yes|x|1|true|left|l|ja|j|oui|o|s|si|sí|sì|sim|tak|t|evet|e|kyllä|k|✓|✔)$`)
	// nobody is what stands in the name's place of a row that is no student's.
	nobody = regexp.MustCompile(`(?i)^((grand )?totals?|printed|sum|count|end of (list|report)|page \d+.*|teacher:.*)\b[:.]?( .*)?$|` +
		`^(class|year|form|grade|room|period|set|block|klasse|classe|clase) ?\w{1,3}( .*)?$|^\d{1,2} ?[a-z]$|.:$`)
)

// headRow returns the row of heads, -1 where none names anybody.
func headRow(rows [][]string) int {
	best, most := -1, 0
	for i, row := range rows[:min(len(rows), titles)] {
		known, names := 0, false
		for _, h := range row {
			m := meaning(h)
			if m != "" {
				known++
			}
			names = names || m == "name" || m == "given" || m == "short"
		}
		if names && known > most {
			best, most = i, known
		}
	}
	return best
}

// columnsOf says what the columns of rows hold: what as says, else what their
// heads say, else what they look like.
func columnsOf(rows [][]string, head int, kind string, as As) (columns []Column) {
	width := 0
	for _, row := range rows {
		width = max(width, len(row))
	}
	columns = make([]Column, min(width, mostColumns))
	for i := range columns {
		for _, row := range rows[head+1:] {
			if columns[i].Sample == "" && i < len(row) {
				columns[i].Sample = short(clean(row[i]))
			}
		}
		if head >= 0 && i < len(rows[head]) {
			columns[i].Head, columns[i].Means = short(clean(rows[head][i])), meaning(rows[head][i])
		}
		if i < len(as.Columns) {
			columns[i].Means = as.Columns[i]
		}
	}
	if head < 0 && len(as.Columns) == 0 {
		bare(rows, columns, kind)
	}
	return columns
}

// familyBeside takes a column headed “name” for the family's where another holds first names alone.
func familyBeside(columns []Column) {
	at := map[string]int{}
	for i, c := range columns {
		at[c.Means] = i + 1
	}
	if at["name"] > 0 && at["given"] > 0 && at["family"] == 0 {
		columns[at["name"]-1].Means = "family"
	}
}

// bare guesses columns without heads: lines such as “Quay, Ada” throughout are
// family and first name; else the first column that is no number names.
func bare(rows [][]string, columns []Column, kind string) {
	pairs := kind == "CSV" && len(columns) == 2
	for _, row := range rows {
		pairs = pairs && (len(row) == 2 && clean(row[0]) != "" && clean(row[1]) != "" && !strings.ContainsAny(row[0]+row[1], "0123456789") || strings.TrimSpace(strings.Join(row, "")) == "")
	}
	if pairs {
		columns[0].Means, columns[1].Means = "family", "given"
		return
	}
	for i, c := range columns {
		if !digits(c.Sample) || i == len(columns)-1 {
			columns[i].Means = "name"
			return
		}
	}
}

func digits(s string) bool { return strings.Trim(clean(s), "0123456789. )") == "" }

// kindOf says what a file of a kind is by its columns.
func kindOf(kind string, columns int, at map[string]int) string {
	_, roles := at["role"]
	switch {
	case kind == "CSV" && roles:
		return "OneRoster users"
	case kind == "CSV" && columns == 1:
		return "names, one a line"
	}
	return kind
}

// fromRows reads rows with heads, or names alone.
func fromRows(rows [][]string, kind string, as As) (List, error) {
	head := headRow(rows)
	if head < 0 && as.Heads {
		head = 0
	}
	if head >= 0 && len(rows[head]) == 1 { // one column, whose names are written “Quay, Ada”
		for i, row := range rows[head+1:] {
			rows[head+1+i] = []string{strings.Join(row, ", ")}
		}
	}
	list := List{Kind: kind, Rows: rows, Columns: columnsOf(rows, head, kind, as), as: as}
	familyBeside(list.Columns)
	at := map[string]int{}
	for i, c := range list.Columns {
		if _, twice := at[c.Means]; c.Means != "" && !twice {
			at[c.Means] = i
		}
	}
	list.Kind = kindOf(kind, len(list.Columns), at)
	if head > 0 {
		list.Odd = append(list.Odd, Odd{1, fmt.Sprintf("what stands above the heads in row %d is left out", head+1)})
	}
	for i, row := range rows[head+1:] {
		list.read(row, at, i+head+2)
	}
	if _, ours := at["short"]; !ours {
		list.shorten()
	}
	if len(list.Entries) == 0 {
		return list, fmt.Errorf("%w: no name was found in %d rows", ErrList, len(rows))
	}
	return list, nil
}
