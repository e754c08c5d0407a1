package roster

import (
	"archive/zip"
	"bytes"
	"errors"
	"fmt"
	"io"
	"strings"
	"testing"
	"unicode/utf16"

	"github.com/xuri/excelize/v2"
)

func names(l List) string {
	var n []string
	for _, e := range l.Entries {
		n = append(n, e.Name)
	}
	return strings.Join(n, "|")
}

func utf16LE(s string) []byte {
	out := []byte{0xff, 0xfe}
	for _, u := range utf16.Encode([]rune(s)) {
		out = append(out, byte(u), byte(u>>8))
	}
	return out
}

func TestRead(t *testing.T) {
	for _, c := range []struct {
		name  string
		b     []byte
		want  string
		odd   int
		check func(List) bool
	}{
		{"pasted lines", []byte("Ada\nBryn\r\n\n  Cleo  \n"), "Ada|Bryn|Cleo", 0, nil},
		{"CSV with heads", []byte("First name,Surname,ID,Group,Hand\nAda,Quay,7,Red,left\nAda,Pier,8,Red,r\n,,9,,\nBo,Sand,10,Blue,both\n"), "Ada Q|Ada P|Bo", 2,
			func(l List) bool {
				return l.Entries[0].Hand == "left" && l.Entries[0].OutsideID == "7" && l.Entries[2].Team == "Blue"
			}},
		{"semicolons", []byte("name;class\nMoll, Rune;7b\nZoë Lund;7b\n"), "Rune|Zoë", 0, func(l List) bool { return l.Classes()[0] == "7b" }},
		{"tabs", []byte("name\thand\nInês\tleft\n"), "Inês", 0, nil},
		{"Windows letters", []byte("S\xf8ren\nJos\xe9\n"), "Søren|José", 0, nil},
		{"UTF-16", utf16LE("Ζωή\nŐrsi\n"), "Ζωή|Őrsi", 0, nil},
		{"a mark before", []byte("\ufeffname\nAda\n"), "Ada", 0, nil},
		{"formulas", []byte("name\n=HYPERLINK(\"http://x\")\n@cmd\n"), `=HYPERLINK("http://x")|@cmd`, 0, nil},
		{"three alike", []byte("name\nAda Quay\nAda Quint\nAda\n"), "Ada Q|Ada Q 2|Ada", 0, nil},
		{"a long name", []byte("name\n" + strings.Repeat("x", 90) + "\n"), strings.Repeat("x", 40), 0, nil},
		{"a list of ours", []byte("Short name,Id,Group,Hand,Units,Pace,At home,Needs\nMary Ann,,Pier,left,cm,slow,\"ruler, window\",high contrast\n'=1+1,," + strings.Repeat("x",
			50) + ",,yards,usual,,\n"), "Mary Ann|=1+1", 2,
			func(l List) bool {
				return l.Entries[0] == Entry{Name: "Mary Ann", Team: "Pier", Hand: "left", Units: "cm", Pace: "slow", Home: "ruler, window", Needs: "high contrast"}
			}},
		{"title rows", []byte("Quarry Road School;;\nPrinted 3 September;;\n;;\nNr;Pupil;Form\n1;Quay, Ada;7b\n2;Pier, Bo;7b\nTotal;2;\n;Total;2\n"), "Ada|Bo", 3,
			func(l List) bool { return l.Entries[0].Class == "7b" }},
		{"family names first", []byte("Smith, Ava\nJones, Noah\n"), "Ava|Noah", 0, nil},
		{"family names first under one head", []byte("Name\nSmith, Ava\nJones, Noah\n"), "Ava|Noah", 0, nil},
		{"numbered lines", []byte("1. Ava Smith\n2. Noah Jones\n13) Mia\n"), "Ava|Noah|Mia", 0, nil},
		{"ids under other heads", []byte("UPN,Legal Surname,Preferred Forename,Reg Group\nA123,Smith,Ava,7B\n"), "Ava", 0,
			func(l List) bool { return l.Entries[0].OutsideID == "A123" && l.Entries[0].Class == "7B" }},
		{"two of one name and two ids", []byte("Student ID,Name\n1,Ana Bell\n2,Ana Bell\n"), "Ana B|Ana B 2", 0, func(l List) bool { return l.Entries[1].OutsideID == "2" }},
		{"bullets, addresses and a title", []byte("Class 7b\n- Ava Smith\n• noah.jones@quay.example\n* Mia Pier <mia@quay.example>\nTOTAL 3\n"), "Ava|Noah|Mia", 2, nil},
		{"a count and doubled rows", []byte("Ava\nBo\nAva\n28\nCount | 28\n"), "Ava|Bo", 3, nil},
		{"left hands in a column of their own", []byte("Name;Left-handed\nAva;yes\nBo;\nCleo;no\nDi;X\n"), "Ava|Bo|Cleo|Di", 0,
			func(l List) bool {
				return l.Entries[0].Hand == "left" && l.Entries[1].Hand == "" && l.Entries[2].Hand == "" && l.Entries[3].Hand == "left"
			}},
		{"German heads", []byte("Nr.;Name;Vorname;Klasse\n1;Meer;Jana;7b\n2;Kai;Nils;7b\n"), "Jana|Nils", 0, func(l List) bool { return l.Entries[0].Class == "7b" }},
		{"French heads", []byte("Nom,Prénom\nPort,Zoé\nMarée,Léo\n"), "Zoé|Léo", 0, nil},
		{"Polish heads", []byte("Imię\tNazwisko\tKlasa\nOla\tMorska\t7b\n"), "Ola", 0, nil},
		{"OneRoster users", []byte("sourcedId,status,role,givenName,familyName\nu1,active,student,Ada,Q\nu2,active,teacher,Ms,Venn\nu3,tobedeleted,student,Old,One\n"), "Ada", 0,
			func(l List) bool { return l.Kind == "OneRoster users" && l.Entries[0].OutsideID == "u1" }},
	} {
		l, err := Read(c.b, As{})
		if err != nil || names(l) != c.want || len(l.Odd) != c.odd || c.check != nil && !c.check(l) {
			t.Errorf("%s: %q, odd %v, %v; want %q and %d odd rows", c.name, names(l), l.Odd, err, c.want, c.odd)
		}
	}
}

// First names or whole ones is one choice, whatever the list is; rows that look like nobody's are
// taken where somebody says so; a list whose columns nobody knows comes back with its rows.
func TestReadAsSaid(t *testing.T) {
	for _, c := range []struct {
		text, want string
		as         As
	}{
		{"Smith, Ava\nJones, Noah\n", "Ava Smith|Noah Jones", As{Whole: true}},
		{"1. Ava Smith\n2. Ava Smith\n", "Ava Smith", As{Whole: true}},
		{"First name;Surname\nAva;Smith\n", "Ava Smith", As{Whole: true}},
		{"Ava\nAva\n28\n", "Ava|Ava 2|28", As{All: true}},
	} {
		l, err := Read([]byte(c.text), c.as)
		if err != nil || names(l) != c.want {
			t.Errorf("%q as %+v: %q, %v; want %q", c.text, c.as, names(l), err, c.want)
		}
	}
	l, err := Read([]byte("17;42\n18;43\n"), As{})
	if !errors.Is(err, ErrList) || len(l.Rows) != 2 || len(l.Columns) != 2 {
		t.Errorf("columns of figures: %d rows, %d columns, %v; want both back, to be told", len(l.Rows), len(l.Columns), err)
	}
}

func TestReadWorkbook(t *testing.T) {
	book := excelize.NewFile()
	for cell, v := range map[string]any{"A1": "Name", "B1": "Hand", "A2": "Ada Quay", "B2": "left", "A3": "Søren"} {
		if err := book.SetCellValue("Sheet1", cell, v); err != nil {
			t.Fatal(err)
		}
	}
	if err := book.SetCellFormula("Sheet1", "A4", `HYPERLINK("http://x","Bo")`); err != nil {
		t.Fatal(err)
	}
	var b bytes.Buffer
	if err := book.Write(&b); err != nil {
		t.Fatal(err)
	}
	l, err := Read(b.Bytes(), As{})
	if err != nil || l.Kind != "XLSX" || !strings.HasPrefix(names(l), "Ada|Søren") || l.Entries[0].Hand != "left" {
		t.Errorf("%s %q, %v", l.Kind, names(l), err)
	}
	if _, err := Read(b.Bytes()[:b.Len()/2], As{}); !errors.Is(err, ErrList) {
		t.Errorf("half a workbook: %v; want ErrList", err)
	}
}

// A OneRoster 1.1 archive of our own, with the columns of the specification:
// students come with their class, whoever else is in it does not.
func TestOneRoster(t *testing.T) {
	archive := func(files map[string]string) []byte {
		var b bytes.Buffer
		z := zip.NewWriter(&b)
		for name, text := range files {
			f, err := z.Create(name)
			if err != nil {
				t.Fatal(err)
			}
			f.Write([]byte(text))
		}
		z.Close()
		return b.Bytes()
	}
	files := map[string]string{
		"manifest.csv":    "propertyName,value\noneroster.version,1.1\n",
		"users.csv":       "sourcedId,status,dateLastModified,enabledUser,orgSourcedIds,role,username,userIds,givenName,familyName,middleName\nu1,active,,true,o1,student,a,,Ada,Quay,\nu2,active,,true,o1,student,b,,Bo,Pier,\nu3,active,,true,o1,teacher,c,,Ms,Venn,\n",
		"classes.csv":     "sourcedId,status,dateLastModified,title,grades,courseSourcedId\nc1,active,,Art 7,07,x\n",
		"enrollments.csv": "sourcedId,status,dateLastModified,classSourcedId,schoolSourcedId,userSourcedId,role\ne1,active,,c1,o1,u1,student\ne2,active,,c1,o1,u3,teacher\n",
	}
	l, err := Read(archive(files), As{})
	if err != nil || names(l) != "Ada|Bo" || l.Entries[0].Class != "Art 7" || l.Entries[1].Class != "" || l.Entries[1].OutsideID != "u2" {
		t.Errorf("%+v, %v", l.Entries, err)
	}
	delete(files, "users.csv")
	if _, err := Read(archive(files), As{}); !errors.Is(err, ErrList) {
		t.Errorf("no users: %v; want ErrList", err)
	}
}

// The teacher's word on what a column holds goes before the heads'.
func TestColumnsAsSaid(t *testing.T) {
	b := []byte("Code,Called\nQ1,Ada\nQ2,Bo\n")
	if l, err := Read(b, As{}); err != nil || names(l) != "Code|Q1|Q2" || len(l.Columns) != 2 {
		t.Errorf("guessed: %q of %v, %v", names(l), l.Columns, err)
	}
	l, err := Read(b, As{Columns: []string{"id", "name"}, Heads: true})
	if err != nil || names(l) != "Ada|Bo" || l.Entries[0].OutsideID != "Q1" || l.Columns[1].Means != "name" {
		t.Errorf("as said: %q, %v", names(l), err)
	}
	if _, err := Read(b, As{Columns: []string{"", ""}}); !errors.Is(err, ErrList) {
		t.Errorf("all left out: %v; want ErrList", err)
	}
}

// Workbooks of a few kilobytes that unfold: one cell in the last column of
// 2,000 rows, and more rows than any school. Neither takes memory or time.
func TestWorkbooksThatUnfold(t *testing.T) {
	build := func(rows int, row func(i int) string) []byte {
		book := excelize.NewFile()
		var b bytes.Buffer
		if err := book.Write(&b); err != nil {
			t.Fatal(err)
		}
		z, err := zip.NewReader(bytes.NewReader(b.Bytes()), int64(b.Len()))
		if err != nil {
			t.Fatal(err)
		}
		var out bytes.Buffer
		w := zip.NewWriter(&out)
		for _, f := range z.File {
			part, err := w.Create(f.Name)
			if err != nil {
				t.Fatal(err)
			}
			if f.Name != "xl/worksheets/sheet1.xml" {
				in, err := f.Open()
				if err != nil {
					t.Fatal(err)
				}
				io.Copy(part, in)
				continue
			}
			io.WriteString(part, `<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetData>`)
			for i := 1; i <= rows; i++ {
				io.WriteString(part, row(i))
			}
			io.WriteString(part, `</sheetData></worksheet>`)
		}
		w.Close()
		return out.Bytes()
	}
	far := func(i int) string {
		return fmt.Sprintf(`<row r="%d"><c r="A%d" t="inlineStr"><is><t>S%d</t></is></c><c r="XFD%d"><v>1</v></c></row>`, i, i, i, i)
	}
	// Half a million pieces of lettering in one cell, in 44 KB: joined one by one they took 13 s.
	lettered := func(int) string {
		return `<row r="1"><c r="A1" t="inlineStr"><is>` + strings.Repeat(`<r><t>a</t></r>`, 500_000) + `</is></c></row>`
	}
	if _, err := Read(build(1, lettered), As{}); !errors.Is(err, ErrList) || !strings.Contains(err.Error(), "letterings") {
		t.Errorf("half a million runs: %v; want refused before they are joined", err)
	}
	bold := func(i int) string {
		return fmt.Sprintf(`<row r="%d"><c r="A%d" t="inlineStr"><is><r><t>Ada </t></r><r><t>Quay %d</t></r></is></c></row>`, i, i, i)
	}
	if l, err := Read(build(500, bold), As{}); err != nil || len(l.Entries) != 500 {
		t.Errorf("names half in bold: %d, %v", len(l.Entries), err)
	}
	if l, err := Read(build(20, far), As{}); err != nil || len(l.Entries) != 20 || len(l.Rows[0]) > mostColumns {
		t.Errorf("strays far out in 20 rows: %d, %v", len(l.Entries), err)
	}
	if _, err := Read(build(2000, far), As{}); !errors.Is(err, ErrList) {
		t.Errorf("in 2,000 rows: %v; want ErrList", err)
	}
	long := build(1_100_000, func(i int) string { return "<row/>" })
	if _, err := Read(long, As{}); !errors.Is(err, ErrList) || len(long) > 100_000 {
		t.Errorf("long, %d bytes: %v; want ErrList", len(long), err)
	}
}

func TestNoList(t *testing.T) {
	for name, b := range map[string][]byte{"empty": nil, "spaces": []byte(" \n\t\n"),
		"a picture": []byte("\x89PNG\r\n\x1a\n\x00\x00"), "heads alone": []byte("name,hand\n"),
		"zip of nothing": []byte("PK\x03\x04 broken")} {
		if l, err := Read(b, As{}); !errors.Is(err, ErrList) {
			t.Errorf("%s: %+v, %v; want ErrList", name, l, err)
		}
	}
	var large strings.Builder
	for i := range 5000 {
		fmt.Fprintf(&large, "Student%d\n", i)
	}
	if l, err := Read([]byte(large.String()), As{}); err != nil || len(l.Entries) != 5000 {
		t.Errorf("5,000 rows: %d, %v", len(l.Entries), err)
	}
	if _, err := Read([]byte(strings.Repeat("x\n", MostRows+1)), As{}); !errors.Is(err, ErrList) {
		t.Errorf("too many rows: %v; want ErrList", err)
	}
}

func FuzzRead(f *testing.F) {
	f.Add([]byte("name,hand\nAda,left\n"))
	f.Add([]byte("PK\x03\x04"))
	f.Fuzz(func(t *testing.T, b []byte) {
		l, err := Read(b, As{})
		if err == nil && len(l.Entries) == 0 {
			t.Fatal("a list of nobody without an error")
		}
		for _, e := range l.Entries {
			if e.Name == "" || len([]rune(e.Name)) > LongestName {
				t.Fatalf("name %q", e.Name)
			}
		}
	})
}
