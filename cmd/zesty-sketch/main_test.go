package main

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"image"
	"image/png"
	"io"
	"math"
	"net"
	"net/http"
	"net/http/cookiejar"
	neturl "net/url"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"filippo.io/age"

	"zestysketch/internal/backup"
	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/demo"
	"zestysketch/internal/mariadb"
	"zestysketch/internal/store"
)

// call runs the program as the shell does.
func call(args ...string) (code int, out, err string) {
	var o, e bytes.Buffer
	code = run(context.Background(), args, streams{strings.NewReader(""), &o, &e})
	return code, o.String(), e.String()
}

func write(t *testing.T, name string, b []byte) string {
	t.Helper()
	path := filepath.Join(t.TempDir(), name)
	if err := os.WriteFile(path, b, 0o600); err != nil {
		t.Fatal(err)
	}
	return path
}

func TestPlanCommand(t *testing.T) {
	// The worked proportion, common practice.
	code, out, stderr := call("plan", "--reference", "8x9.5in", "--paper", "12x18in", "--fit", "width", "--reference-square", "1in")
	if code != 0 || stderr != "" {
		t.Fatalf("exit %d, %s", code, stderr)
	}
	for _, want := range []string{`"format": "zesty-plan/1"`, `"width_mm": 304.8`, `"height_mm": 361.95`, `"columns": 8`, `"rows": 10`, `"12 × 9 1/2 = 114"`, `"114 ÷ 8 = 14 1/4"`} {
		if !strings.Contains(out, want) {
			t.Errorf("%s is missing from\n%s", want, out)
		}
	}
	if _, err := grid.Decode([]byte(out)); err != nil {
		t.Errorf("the plan cannot be read back: %v", err)
	}
}

// Everything that the bench can ask for, the shell can.
func TestPlanTakesAllOfIt(t *testing.T) {
	code, out, stderr := call("plan", "--reference", "9x12in", "--paper", "18x24in", "--reference-square", "2in", "--remainder", "start", "--start", "bottom left",
		"--split", "A1 4", "--margin", "1in", "--strip", "2in", "--hand", "left", "--mark-by", "strip", "--line", "white", "--line-width", "0.4mm", "--ruler-zero", "1/4in")
	if code != 0 {
		t.Fatalf("exit %d, %s", code, stderr)
	}
	for _, want := range []string{`"remainder_at": "start"`, `"start": "bottom left"`, `"A1": 4`, `"strip_mm": 50.8`, `"hand": "left"`, `"way": "strip"`, `"color": "white"`, `"zero_mm": 6.35`} {
		if !strings.Contains(out, want) {
			t.Errorf("%s is missing from\n%s", want, out)
		}
	}
}

// Sizes come best first, each a plan that is read back; a plan of a picture on
// paper, with nothing else said, is the first of them.
func TestSizesCommand(t *testing.T) {
	s, err := demo.NewSample()
	if err != nil {
		t.Fatal(err)
	}
	file := write(t, "light.png", s.Picture)
	code, out, stderr := call("sizes", "--picture", file, "--paper", "12x18in", "--paper", "9x12in", "--level", "middle", "--minutes", "240", "--least", "4")
	var got struct {
		Format string
		Sizes  []struct {
			Plan    json.RawMessage
			Trim    [4]float64 `json:"trim_percent"`
			Score   float64
			Reasons []string
		}
	}
	if err := json.Unmarshal([]byte(out), &got); code != 0 || err != nil || got.Format != "zesty-sizes/1" || len(got.Sizes) != 4 {
		t.Fatalf("exit %d, %v, %d sizes, %s", code, err, len(got.Sizes), stderr)
	}
	for i, one := range got.Sizes {
		p, err := grid.Decode(one.Plan)
		if err != nil || len(one.Reasons) < 3 || i > 0 && one.Score > got.Sizes[i-1].Score || slices.Max(one.Trim[:]) > 3+1e-9 {
			t.Errorf("size %d: %v, score %g, trim %v, reasons %q", i+1, err, one.Score, one.Trim, one.Reasons)
		}
		if i == 0 && p.Grid.ReferenceRemainder != [2]float64{} {
			t.Errorf("the first leaves %v", p.Grid.ReferenceRemainder)
		}
	}
	_, first, _ := call("sizes", "--picture", file, "--paper", "A3", "--units", "cm", "--least", "1")
	_, plan, _ := call("plan", "--picture", file, "--paper", "A3", "--units", "cm")
	if err := json.Unmarshal([]byte(first), &got); err != nil {
		t.Fatal(err)
	}
	want, err1 := grid.Decode(got.Sizes[0].Plan)
	have, err2 := grid.Decode([]byte(plan))
	if err1 != nil || err2 != nil || !have.Alike(want) || have.SheetSize() != want.SheetSize() {
		t.Errorf("plan makes %v, sizes %v; %v, %v", have.SheetSize(), want.SheetSize(), err1, err2)
	}
	for _, bad := range [][]string{{}, {"--paper", "A3"}, {"--picture", file}, {"--picture", file, "--paper", "sail"}, {"--picture", file, "--paper", "A3", "--level", "old"},
		{"--picture", file, "--paper", "A3", "--least", "0"}, {"--picture", file, "--paper", "A3", "--minutes", "-1"}, {"--picture", file, "--paper", "6x8mm"}} {
		if code, _, stderr := call(append([]string{"sizes"}, bad...)...); code != 2 || strings.Count(stderr, "\n") != 1 {
			t.Errorf("%q: exit %d, %q; want 2 and one line", bad, code, stderr)
		}
	}
}

func TestPlanFromPicture(t *testing.T) {
	s, err := demo.NewSample()
	if err != nil {
		t.Fatal(err)
	}
	code, out, stderr := call("plan", "--picture", write(t, "p.png", s.Picture), "--printed-width", "7in", "--scale", "1.5")
	if code != 0 || !strings.Contains(out, `"height_mm": 228.6`) || !strings.Contains(out, `"color": "red"`) {
		t.Errorf("exit %d, %s\n%s", code, stderr, out)
	}
}

func TestCheckCommand(t *testing.T) {
	s, err := demo.NewSample()
	if err != nil {
		t.Fatal(err)
	}
	planFile, err := grid.Encode(s.Plan)
	if err != nil {
		t.Fatal(err)
	}
	marks, err := json.Marshal(landmarksFile{Format: landmarksFormat, Landmarks: s.Landmarks})
	if err != nil {
		t.Fatal(err)
	}
	var corners strings.Builder
	for _, c := range s.Corners {
		fmt.Fprintf(&corners, "%g,%g ", c.X, c.Y)
	}
	args := []string{"check", "--plan", write(t, "plan.json", planFile), "--photo", write(t, "photo.jpg", s.Photo),
		"--corners", corners.String(), "--landmarks", write(t, "marks.json", marks)}
	code, out, stderr := call(args...)
	if code != 0 {
		t.Fatalf("exit %d, %s", code, stderr)
	}
	var r accuracy.Report
	if err := json.Unmarshal([]byte(out), &r); err != nil || r.Format != "zesty-check/1" {
		t.Fatalf("%v in\n%s", err, out)
	}
	for _, o := range r.Landmarks {
		if o.Name == "Top of the door" && (o.Within || math.Abs(o.Off.X+0.5) > 0.02) {
			t.Errorf("the door is %+v; want half a box too far left", o)
		}
	}
	for _, bad := range []struct {
		flag, value, say string
		code             int
	}{
		{"--corners", "1,1 2,2", "wanted four corners", 2},
		{"--corners", "0,0 0,0 0,0 0,0", "cross or lie too close", 2},
		{"--corners", "0,0 9000,0 9000,9000 0,9000", "outside the photo", 1},
		{"--photo", write(t, "not.jpg", []byte("x")), "not a picture", 1},
		{"--photo", "/nowhere.jpg", "no such file", 1},
		{"--plan", write(t, "cut.json", planFile[:200]), "damaged or cut off", 1},
		{"--landmarks", write(t, "m.json", []byte(`{"format":"zesty-landmarks/1","landmarks":[]}`)), "nothing to measure by", 1},
		{"--landmarks", write(t, "m.json", []byte(`{"format":"zesty-landmarks/9"}`)), "wanted the format", 1},
		{"--plan", "", "check needs", 2},
		{"--compare", "apples", "--compare is fold, turn or views", 2},
		{"--what", "x", "wrong usage", 2},
	} {
		code, out, stderr := call(append(append([]string{}, args...), bad.flag, bad.value)...)
		if code != bad.code || !strings.Contains(stderr, bad.say) || out != "" || strings.Count(stderr, "\n") != 1 {
			t.Errorf("%s %q: exit %d, %q %q; want %d and one line saying %q", bad.flag, bad.value, code, out, stderr, bad.code, bad.say)
		}
	}
}

// check finds a drawing by itself and measures it, box by box; photograph
// leaves what is needed to try it.
func TestCheckWithoutCorners(t *testing.T) {
	dir := filepath.Join(t.TempDir(), "tryout")
	if code, _, stderr := call("photograph", "--out", dir, "--width", "1200"); code != 0 {
		t.Fatalf("photograph: exit %d, %s", code, stderr)
	}
	file := func(name string) string { return filepath.Join(dir, name) }
	code, out, stderr := call("check", "--plan", file("plan.json"), "--picture", file("picture.png"), "--photo", file("second.jpg"))
	var r accuracy.Report
	if err := json.Unmarshal([]byte(out), &r); code != 0 || err != nil {
		t.Fatalf("exit %d, %s, %v", code, stderr, err)
	}
	if r.FoundBy == "hand" || !r.Measured || math.Abs(r.Fit.Scale-3) > 0.5 || !strings.Contains(strings.Join(r.Say, " "), "too large") {
		t.Errorf("found by %s, measured %v, %+v, said %q; want the whole 3 %% too large", r.FoundBy, r.Measured, r.Fit, r.Say)
	}
	for _, key := range []string{`"state": "drawn"`, `"shift_cell"`, `"sure"`, `"across_deg"`, `"missing"`, `"extra"`, `"rank_correlation"`, `"darkest"`, `"lightest"`, `"sharpness"`} {
		if !strings.Contains(out, key) {
			t.Errorf("%s is missing", key)
		}
	}
	if code, out, stderr := call("check", "--plan", file("plan.json"), "--picture", file("picture.png"), "--photo",
		file("not-a-photo.jpg")); code != 1 || out != "" || !strings.Contains(stderr, "not a picture") {
		t.Errorf("no photo: exit %d, %q %q", code, out, stderr)
	}
	for _, bad := range [][]string{{"--out", ""}, {"--out", dir, "--students", "1,2"}, {"--out", dir, "--students", "1,2,3,x"}, {"--out", dir, "--width", "9"}} {
		if code, _, _ := call(append([]string{"photograph"}, bad...)...); code != 2 {
			t.Errorf("photograph %v: exit %d; want 2", bad, code)
		}
	}
}

// print writes whole files of each kind, and none where it cannot.
func TestPrintCommand(t *testing.T) {
	s, err := demo.NewSample()
	if err != nil {
		t.Fatal(err)
	}
	planFile, err := grid.Encode(s.Plan)
	if err != nil {
		t.Fatal(err)
	}
	dir := t.TempDir()
	args := []string{"print", "--plan", write(t, "plan.json", planFile), "--picture", write(t, "p.png", s.Picture), "--paper", "letter"}
	for _, c := range []struct {
		more  []string
		files []string
		first string
	}{
		{[]string{"--out", filepath.Join(dir, "a.pdf")}, []string{"a.pdf"}, "%PDF-"},
		{[]string{"--out", filepath.Join(dir, "b.svg"), "--pages", "reference,values", "--grey", "--student", "Ζωή"}, []string{"b-1.svg", "b-2.svg"}, "<svg "},
		{[]string{"--out", filepath.Join(dir, "c.png"), "--pages", "clean", "--pretend", "97x98.5%"}, []string{"c.png"}, "\x89PNG"},
		{[]string{"--out", filepath.Join(dir, "d.pdf"), "--pages", "sheet,strips,tags,teacher-list", "--picture", "", "--paper", "210x300mm"}, []string{"d.pdf"}, "%PDF-"},
	} {
		code, out, stderr := call(append(append([]string{}, args...), c.more...)...)
		if code != 0 || !strings.Contains(out, `"pages":`) {
			t.Errorf("%v: exit %d, %s %s", c.more, code, out, stderr)
			continue
		}
		for _, name := range c.files {
			if b, err := os.ReadFile(filepath.Join(dir, name)); err != nil || !strings.HasPrefix(string(b), c.first) {
				t.Errorf("%s: %v; want it to begin with %q", name, err, c.first)
			}
		}
	}
	before, err := os.ReadDir(dir)
	if err != nil {
		t.Fatal(err)
	}
	for _, bad := range []struct {
		more []string
		say  string
		code int
	}{
		{[]string{"--out", filepath.Join(dir, "x.gif")}, "ends in .pdf, .svg or .png", 2},
		{[]string{"--out", filepath.Join(dir, "x.pdf"), "--pages", "poster"}, "no page called", 2},
		{[]string{"--out", filepath.Join(dir, "x.pdf"), "--paper", "A6"}, "choose", 1},
		{[]string{"--out", filepath.Join(dir, "x.pdf"), "--paper", "moon"}, "wanted the printer's paper", 2},
		{[]string{"--out", filepath.Join(dir, "x.pdf"), "--picture", ""}, "--picture", 2},
		{[]string{"--out", filepath.Join(dir, "x.png"), "--pretend", "5x5"}, "--pretend", 2},
		{[]string{"--out", filepath.Join(dir, "nowhere", "x.pdf")}, "no such file", 1},
		{nil, "needs --plan and --out", 2},
	} {
		if code, out, stderr := call(append(append([]string{}, args...), bad.more...)...); code != bad.code || !strings.Contains(stderr, bad.say) || out != "" {
			t.Errorf("%v: exit %d, %q %q; want %d saying %q", bad.more, code, out, stderr, bad.code, bad.say)
		}
	}
	if after, err := os.ReadDir(dir); err != nil || len(after) != len(before) {
		t.Errorf("%d files after failing, %d before: a half file was left", len(after), len(before))
	}
}

func TestUsage(t *testing.T) {
	for _, c := range []struct {
		args []string
		say  string
		code int
	}{
		{nil, "wanted one of demo", 2},
		{[]string{"draw"}, "wanted one of demo", 2},
		{[]string{"help"}, "zesty-sketch COMMAND", 0},
		{[]string{"plan"}, "either --reference or --picture", 2},
		{[]string{"plan", "--reference", "0x9in", "--paper", "A3"}, "must be more than 0", 2},
		{[]string{"plan", "--reference", "8x9in", "--paper", "A3", "extra"}, "too much", 2},
		{[]string{"teacher", "--email", "x"}, "teacher needs", 2},
		{[]string{"demo", "--addr", "nowhere:-1"}, "--addr", 2},
	} {
		if code, out, stderr := call(c.args...); code != c.code || !strings.Contains(stderr, c.say) || out != "" {
			t.Errorf("%v: exit %d, %q %q; want %d saying %q", c.args, code, out, stderr, c.code, c.say)
		}
	}
}

// shared is a buffer that a running command writes and the test reads.
type shared struct {
	sync.Mutex
	bytes.Buffer
}

func (s *shared) Write(b []byte) (int, error) {
	s.Lock()
	defer s.Unlock()
	return s.Buffer.Write(b)
}

func (s *shared) String() string {
	s.Lock()
	defer s.Unlock()
	return s.Buffer.String()
}

var address = regexp.MustCompile(`http://\S+`)

// startDemo runs the demo command until stop is called, which returns its exit code.
func startDemo(t *testing.T, dir, addr string) (url string, stop func() int) {
	t.Helper()
	said, stop := start(t, address, "demo", "--data", dir, "--addr", addr)
	return address.FindString(said), stop
}

// startRoom is how long a start may take beside other packages' tests on two cores: alone the demo, which draws
// and measures its photos, takes half a minute.
const startRoom = 3 * time.Minute

// start runs a command that serves, until it has said what is waited for.
func start(t *testing.T, until *regexp.Regexp, args ...string) (said string, stop func() int) {
	t.Helper()
	ctx, cancel := context.WithCancel(context.Background())
	var out, errs shared
	ended := make(chan int, 1)
	go func() { ended <- run(ctx, args, streams{strings.NewReader(""), &out, &errs}) }()
	for deadline := time.Now().Add(startRoom); time.Now().Before(deadline); time.Sleep(20 * time.Millisecond) {
		if said = out.String(); until.MatchString(said) {
			return said, func() int { cancel(); return <-ended }
		}
		if len(ended) > 0 {
			break
		}
	}
	cancel()
	t.Fatalf("%s did not start: %s %s", args[0], out.String(), errs.String())
	return "", nil
}

// An empty folder is served with a word, once; with it the school is made. A link
// for a new password is made in the shell, and a password is read from a file.
func TestFirstDay(t *testing.T) {
	dir, word := t.TempDir(), regexp.MustCompile(`asks for is +([a-z2-9-]{14})\n`)
	said, stop := start(t, word, "serve", "--data", dir, "--addr", "127.0.0.1:0")
	url := address.FindString(said)
	door := &http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	post := func(path string, values neturl.Values) *http.Response {
		t.Helper()
		res, err := door.PostForm(url+path, values)
		if err != nil {
			t.Fatal(err)
		}
		res.Body.Close()
		return res
	}
	first := neturl.Values{"school": {"Quay"}, "units": {"cm"}, "dates": {"sv_SE"}, "name": {"Venn"},
		"email": {"venn@quay.example"}, "password": {"kettle rope lantern"}, "again": {"kettle rope lantern"},
		"word": {word.FindStringSubmatch(said)[1]}}
	if res := post("/first", first); res.StatusCode != http.StatusSeeOther || res.Header.Get("Location") != "/" {
		t.Fatalf("making the school: %s to %q", res.Status, res.Header.Get("Location"))
	}
	if res := post("/first", first); res.StatusCode != http.StatusUnprocessableEntity {
		t.Errorf("the word again: %s", res.Status)
	}
	code, link, stderr := call("password", "--data", dir, "--email", "venn@quay.example", "--link", "--at", url+"/")
	if path, ours := strings.CutPrefix(strings.TrimSpace(link), url); code != 0 || !ours {
		t.Errorf("a link: exit %d, %q, %s", code, link, stderr)
	} else if res := post(path, neturl.Values{"password": {"tide table chalk"}, "again": {"tide table chalk"}}); res.Header.Get("Location") != "/signin" {
		t.Errorf("the link leads to %q, %s", res.Header.Get("Location"), res.Status)
	}
	file := write(t, "password.txt", []byte("rope kettle chalk\r\nnot this\n"))
	if code, _, stderr := call("password", "--data", dir, "--email", "venn@quay.example", "--password-file", file); code != 0 {
		t.Errorf("from a file: exit %d, %s", code, stderr)
	}
	if res := post("/signin", neturl.Values{"email": {"venn@quay.example"}, "password": {"rope kettle chalk"}}); res.StatusCode != http.StatusSeeOther {
		t.Errorf("signing in: %s", res.Status)
	}
	if code := stop(); code != 0 {
		t.Errorf("stopped with exit %d", code)
	}
	said, stop = start(t, address, "serve", "--data", dir, "--addr", "127.0.0.1:0")
	if word.MatchString(said) {
		t.Errorf("a school that is there is served with a word: %s", said)
	}
	stop()
}

// The demo starts, says where it is, makes way for a taken port, refuses a
// second copy in its folder, stops cleanly and starts again.
func TestDemoLife(t *testing.T) {
	dir := t.TempDir()
	taken, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer taken.Close()
	url, stop := startDemo(t, dir, taken.Addr().String())
	if strings.HasSuffix(url, taken.Addr().String()) {
		t.Errorf("served on the taken port %s", url)
	}
	res, err := http.Get(url + "/signin")
	if err != nil {
		t.Fatal(err)
	}
	page, _ := io.ReadAll(res.Body)
	res.Body.Close()
	if res.StatusCode != http.StatusOK || !strings.Contains(string(page), "Good to see you") {
		t.Errorf("%s/signin: %d", url, res.StatusCode)
	}
	if code, _, stderr := call("demo", "--data", dir); code != 1 || !strings.Contains(stderr, "already running") {
		t.Errorf("a second copy: exit %d, %q", code, stderr)
	}
	if code := stop(); code != 0 {
		t.Errorf("stopped with exit %d; want 0", code)
	}
	if code, _, stderr := call("serve", "--data", dir, "--addr", taken.Addr().String()); code != 1 || !strings.Contains(stderr, "choose another with --addr") {
		t.Errorf("serving on a taken port: exit %d, %q", code, stderr)
	}
	url, stop = startDemo(t, dir, "127.0.0.1:0")
	people := func(when, typed string, args ...string) (code int, said string) {
		t.Helper()
		var out, errs bytes.Buffer
		code = run(context.Background(), append(args[:1:1], append([]string{"--data", dir}, args[1:]...)...), streams{strings.NewReader(typed), &out, &errs})
		return code, out.String() + errs.String()
	}
	// Teachers are added and passwords changed while the server runs, and while it does not.
	for i, when := range []string{"running", "stopped"} {
		email := fmt.Sprintf("new%d@quay.example", i)
		if code, said := people(when, "kettle rope lantern\n", "teacher", "--school", "Quay", "--email", email, "--name", "New"); code != 0 || !strings.Contains(said, "can sign in") {
			t.Errorf("%s: adding a teacher: exit %d, %q", when, code, said)
		}
		if code, said := people(when, "tide table chalk\n", "password", "--email", email); code != 0 || !strings.Contains(said, "New has a new password") {
			t.Errorf("%s: changing a password: exit %d, %q", when, code, said)
		}
		for typed, why := range map[string]string{"password12\n": "tried first", "short\n": "at least 10 letters", "": "at least 10 letters, got 0"} {
			if code, said := people(when, typed, "password", "--email", email); code != 1 || !strings.Contains(said, why) {
				t.Errorf("%s: password %q: exit %d, %q", when, typed, code, said)
			}
		}
		if code, said := people(when, "tide table chalk\n", "password", "--email", "nobody@quay.example"); code != 1 || !strings.Contains(said, "nobody signs in as") {
			t.Errorf("%s: nobody's password: exit %d, %q", when, code, said)
		}
		if when == "running" {
			door := &http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
			res, err := door.PostForm(url+"/signin", neturl.Values{"email": {email}, "password": {"tide table chalk"}})
			if err != nil || res.StatusCode != http.StatusSeeOther {
				t.Fatalf("signing in with it: %v, %v", res, err)
			}
			res.Body.Close()
			backedUp(t, dir)
			stop()
		}
	}
}

// backedUp backs a running school up, plain and encrypted, and moves it to other
// folders, where its people sign in as before.
func backedUp(t *testing.T, dir string) {
	t.Helper()
	to := t.TempDir()
	who, err := age.GenerateX25519Identity()
	if err != nil {
		t.Fatal(err)
	}
	key := write(t, "key.txt", []byte(who.String()))
	for name, flags := range map[string][2][]string{"plain": {}, "secret": {{"--to", who.Recipient().String()}, {"--identity", key}}} {
		file, there := filepath.Join(to, name+".zesty"), filepath.Join(to, name)
		if code, out, stderr := call(append([]string{"backup", "--data", dir, "--out", file}, flags[0]...)...); code != 0 || !strings.Contains(out, "tables as they were at") {
			t.Fatalf("%s: backing up: exit %d, %s", name, code, stderr)
		}
		if code, out, stderr := call(append(append([]string{"restore", "--data", there}, flags[1]...), file)...); code != 0 || !strings.Contains(out, "restored as it was") {
			t.Fatalf("%s: restoring: exit %d, %s", name, code, stderr)
		}
		if code, _, stderr := call(append(append([]string{"restore", "--data", there}, flags[1]...), file)...); code != 1 || !strings.Contains(stderr, "holds a school already") {
			t.Errorf("%s: restoring twice: exit %d, %s", name, code, stderr)
		}
		var out, errs bytes.Buffer
		if code := run(context.Background(), []string{"password", "--data", there, "--email", demo.Email}, streams{strings.NewReader("chalk line horizon\n"), &out, &errs}); code != 0 {
			t.Errorf("%s: who was moved is not there: %s", name, errs.String())
		}
	}
	for _, bad := range []struct {
		args []string
		code int
		say  string
	}{
		{[]string{"restore", "--data", dir, filepath.Join(to, "plain.zesty")}, 1, "a server is running"},
		{[]string{"restore", "--data", filepath.Join(to, "new"), filepath.Join(to, "secret.zesty")}, 1, "does not begin as one"},
		{[]string{"restore", "--data", filepath.Join(to, "new"), filepath.Join(to, "nowhere")}, 1, "no such file"},
		{[]string{"restore", "--data", filepath.Join(to, "new"), "--identity", key, filepath.Join(to, "plain.zesty")}, 1, "not encrypted to this identity"},
		{[]string{"restore"}, 2, "needs the backup's file"}, {[]string{"backup", "--data", dir}, 2, "needs --out"},
		{[]string{"backup", "--data", dir, "--out", filepath.Join(to, "no", "folder")}, 1, "no such file"}, {[]string{"backup", "--out", "x", "--to", "me"}, 2, "age recipient"},
	} {
		if code, _, stderr := call(bad.args...); code != bad.code || !strings.Contains(stderr, bad.say) {
			t.Errorf("%q: exit %d, %q; want %d, %q", bad.args, code, stderr, bad.code, bad.say)
		}
	}
	// The night's backup is one like these.
	dsn, running := mariadb.Running(dir)
	n := nightly{dir: filepath.Join(to, "nights"), keep: 2}
	if err := errors.Join(n.check(), n.make(context.Background(), dsn, "night-2026-11-26.backup")); err != nil || !running {
		t.Fatalf("the night's backup: %v, running %v", err, running)
	}
	if files, err := os.ReadDir(n.dir); err != nil || len(files) != 2 {
		t.Errorf("%v, %v; want the night's backup and who was forgotten", files, err)
	}
	if b, err := os.Open(filepath.Join(n.dir, "night-2026-11-26.backup")); err != nil {
		t.Error(err)
	} else if _, err := backup.Check(b); err != nil {
		t.Error(err)
	}
	// So is the one before a change of tables, each under a name of its own.
	if err := errors.Join(n.before(dsn)(context.Background()), n.before(dsn)(context.Background())); err != nil || (nightly{}).before(dsn) != nil {
		t.Errorf("the backup of before: %v", err)
	}
	old, err := filepath.Glob(filepath.Join(n.dir, "before-"+store.Tables()+"-*"+backup.Ending))
	if err != nil || len(old) != 2 {
		t.Fatalf("%v, %v; want two", old, err)
	}
	if b, err := os.Open(old[0]); err != nil {
		t.Error(err)
	} else if _, err := backup.Check(b); err != nil {
		t.Error(err)
	}
	// A disk that is full leaves the backup of before as it was.
	file := write(t, "kept.zesty", []byte("before"))
	if err := written(file, nil, func(io.Writer) error { return syscall.ENOSPC }); err == nil || !strings.Contains(err.Error(), "is there room on the disk") {
		t.Errorf("a full disk: %v", err)
	}
	if b, err := os.ReadFile(file); err != nil || string(b) != "before" {
		t.Errorf("a full disk left %q, %v", b, err)
	}
	staysForgotten(t, dsn, dir, filepath.Join(n.dir, "night-2026-11-26.backup"))
}

// staysForgotten forgets a student after a night's backup and brings that back: they are
// forgotten there too. Where nobody can say who was forgotten since, that is asked.
func staysForgotten(t *testing.T, dsn, dir, night string) {
	t.Helper()
	ctx := context.Background()
	db, err := store.Open(ctx, dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	db.OnForgotten(func(ctx context.Context) {
		if err := backup.Tell(ctx, db); err != nil {
			t.Error(err)
		}
	})
	me, err := db.TeacherByAddress(ctx, demo.Email)
	if err != nil {
		t.Fatal(err)
	}
	classes, err := db.Classes(ctx, me.ID)
	if err != nil {
		t.Fatal(err)
	}
	gone := classes[0].Students[0]
	if err := db.ForgetStudent(ctx, me.ID, gone.ID); err != nil {
		t.Fatal(err)
	}
	list := filepath.Join(filepath.Dir(night), backup.ForgottenFile)
	newer, err := os.ReadFile(list)
	if err != nil || !strings.Contains(string(newer), fmt.Sprintf("\n%d\n", gone.ID)) {
		t.Fatalf("beside the night's backup stands %q, %v; want %d", newer, err, gone.ID)
	}
	old := time.Now().Add(-48 * time.Hour)
	if err := os.WriteFile(list, []byte("# as of "+old.UTC().Format(time.RFC3339)+"\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	there := filepath.Join(t.TempDir(), "there")
	if code, _, stderr := call("restore", "--data", there, night); code != 1 || !strings.Contains(stderr, "name a newer forgotten.txt") {
		t.Errorf("with a list of two days ago: exit %d, %q; want a newer one asked for", code, stderr)
	}
	if err := os.Remove(list); err != nil {
		t.Fatal(err)
	}
	if code, _, stderr := call("restore", "--data", there, night); code != 1 || !strings.Contains(stderr, "no list of who was forgotten") {
		t.Errorf("without a list: exit %d, %q; want one asked for", code, stderr)
	}
	if code, _, stderr := call("restore", "--data", there, "--forgotten", write(t, "newer.txt", newer), night); code != 0 {
		t.Fatalf("with a newer list: exit %d, %q", code, stderr)
	}
	server, err := mariadb.Start(ctx, there)
	if err != nil {
		t.Fatal(err)
	}
	defer server.Stop()
	restored, err := store.Open(ctx, server.DSN())
	if err != nil {
		t.Fatal(err)
	}
	defer restored.Close()
	if _, err := restored.Student(ctx, me.ID, gone.ID); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("who was forgotten after the night's backup is back: %v", err)
	}
}

// A lesson goes on while the database is killed (kill -9) and comes back, and
// while the program is stopped and started: not one confirmed tick is lost.
func TestNoConfirmedTickIsLost(t *testing.T) {
	dir := t.TempDir()
	url, stop := startDemo(t, dir, "127.0.0.1:0")
	jar, err := cookiejar.New(nil)
	if err != nil {
		t.Fatal(err)
	}
	client := &http.Client{Jar: jar, Timeout: 20 * time.Second, CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	signIn := func() {
		t.Helper()
		res, err := client.PostForm(url+"/signin", neturl.Values{"email": {demo.Email}, "password": {demo.Password}})
		if err != nil || res.StatusCode != http.StatusSeeOther {
			t.Fatalf("signing in: %v, %v", res, err)
		}
		res.Body.Close()
	}
	signIn()
	confirmed := map[string]bool{}
	tick := func(student int, label string) (ok bool) {
		res, err := client.PostForm(fmt.Sprintf("%s/projects/1/students/%d/ticks", url, student), neturl.Values{"label": {label}, "on": {"1"}})
		if err != nil {
			return false
		}
		res.Body.Close()
		if ok = res.StatusCode == http.StatusSeeOther && !strings.Contains(res.Header.Get("Location"), "signin"); ok {
			confirmed[fmt.Sprintf("%d %s", student, label)] = true
		}
		return ok
	}
	kill := func() {
		t.Helper()
		b, err := os.ReadFile(filepath.Join(dir, "mariadb.pid"))
		if err != nil {
			t.Fatal(err)
		}
		pid, err := strconv.Atoi(strings.TrimSpace(string(b)))
		if err != nil {
			t.Fatal(err)
		}
		if err := syscall.Kill(pid, syscall.SIGKILL); err != nil {
			t.Fatal(err)
		}
	}
	refused := 0
	for i := range 160 {
		if i == 40 || i == 110 {
			kill()
		}
		if !tick(1+i%8, fmt.Sprintf("%c%d", 'A'+i/8%9, 1+i/72)) {
			refused++
			time.Sleep(50 * time.Millisecond)
		}
	}
	for deadline := time.Now().Add(30 * time.Second); !tick(9, "A1") && time.Now().Before(deadline); {
		time.Sleep(100 * time.Millisecond) // until the database is back
	}
	if code := stop(); code != 0 {
		t.Errorf("stopped with exit %d", code)
	}
	url, stop = startDemo(t, dir, "127.0.0.1:0")
	defer stop()
	signIn()
	if len(confirmed) < 60 || refused == 0 {
		t.Errorf("%d ticks were confirmed and %d refused; want most confirmed, and some refused while the database was away", len(confirmed), refused)
	}
	for student := 1; student <= 9; student++ {
		res, err := client.Get(fmt.Sprintf("%s/projects/1/wall/tiles?student=%d", url, student))
		if err != nil {
			t.Fatal(err)
		}
		tile, _ := io.ReadAll(res.Body)
		res.Body.Close()
		for key := range confirmed {
			var who int
			var label string
			if fmt.Sscanf(key, "%d %s", &who, &label); who == student && !strings.Contains(string(tile), fmt.Sprintf(`data-label="%s" class="on"`, label)) {
				t.Errorf("%s was confirmed and is lost", key)
			}
		}
	}
}

// Nights are at half past two, also over a change of clocks; of their backups the
// latest are kept, and what somebody else put there.
func TestNights(t *testing.T) {
	zone, err := time.LoadLocation("Europe/Lisbon")
	if err != nil {
		t.Fatal(err)
	}
	for now, want := range map[string]string{"2026-11-26 02:29": "2026-11-26 02:30",
		"2026-11-26 02:30": "2026-11-27 02:30", "2026-11-26 23:00": "2026-11-27 02:30",
		"2026-10-24 12:00": "2026-10-25 02:30", "2026-12-31 03:00": "2027-01-01 02:30"} {
		at, err := time.ParseInLocation("2006-01-02 15:04", now, zone)
		if got := nextNight(at).Format("2006-01-02 15:04"); err != nil || got != want {
			t.Errorf("after %s: %s, %v; want %s", now, got, err, want)
		}
	}
	n := nightly{dir: t.TempDir(), keep: 2}
	for _, name := range []string{"night-2026-11-20.backup", "night-2026-11-22.backup", "night-2026-11-21.backup",
		"night-before-exams.backup", "mine.backup", "forgotten.txt", "before-0013-2026-11-01.backup"} {
		if err := os.WriteFile(filepath.Join(n.dir, name), nil, 0o600); err != nil {
			t.Fatal(err)
		}
	}
	if err := n.prune(n.dir); err != nil {
		t.Fatal(err)
	}
	files, _ := os.ReadDir(n.dir)
	var left []string
	for _, f := range files {
		left = append(left, f.Name())
	}
	if want := []string{"before-0013-2026-11-01.backup", "forgotten.txt", "mine.backup", "night-2026-11-21.backup", "night-2026-11-22.backup", "night-before-exams.backup"}; !slices.Equal(left, want) {
		t.Errorf("left %v; want %v", left, want)
	}
	for _, bad := range []nightly{{dir: "x", keep: 0}, {dir: "x", also: "./x", keep: 1}, {dir: "x", keep: 1, to: "me"}} {
		if err := bad.check(); !errors.Is(err, errUsage) {
			t.Errorf("%+v: %v", bad, err)
		}
	}
}

// values writes SVG, PDF and PNG, says what they cover, and helps where a
// picture or a wish is strange.
func TestValuesCommand(t *testing.T) {
	s, err := demo.NewSample()
	if err != nil {
		t.Fatal(err)
	}
	pic, dir := write(t, "p.png", s.Picture), t.TempDir()
	for _, name := range []string{"map.svg", "map.pdf", "map.png"} {
		out := filepath.Join(dir, name)
		code, printed, stderr := call("values", "--picture", pic, "--width", "175mm", "--steps", "3", "--out", out)
		var got valueSummary
		if err := json.Unmarshal([]byte(printed), &got); code != 0 || err != nil {
			t.Fatalf("%s: exit %d, %s, %v", name, code, stderr, err)
		}
		share := 0.0
		for _, l := range got.Levels {
			share += l.Share
		}
		if math.Abs(share-1) > 1e-9 || got.Areas < 2 || len(got.Levels) != 3 || math.Abs(got.Size[0]-175) > 0.2 {
			t.Errorf("%s: %+v", name, got)
		}
		if info, err := os.Stat(out); err != nil || info.Size() < 500 {
			t.Errorf("%s: %v, %v", name, info, err)
		}
	}
	flat := write(t, "flat.png", greyPNG(t, 120, 90))
	if code, printed, stderr := call("values", "--picture", flat, "--width", "10cm", "--steps", "7", "--out",
		filepath.Join(dir, "flat.svg")); code != 0 || !strings.Contains(printed, "Ask for fewer steps") {
		t.Errorf("one tone in 7 steps: exit %d, %s %s; want a map and advice", code, printed, stderr)
	}
	// The main outlines alone; a picture 20,000 wide has its map, one of a single pixel a word.
	if code, printed, stderr := call("values", "--picture", pic, "--width", "175mm", "--style", "figure", "--out",
		filepath.Join(dir, "s.svg")); code != 0 || !strings.Contains(printed, `"step":3`) ||
		strings.Contains(printed, `"step":4`) {
		t.Errorf("simplified: exit %d, %s %s; want three steps", code, printed, stderr)
	}
	for size, want := range map[[2]int]string{{20000, 40}: `"areas":1`, {1, 1}: "at least 16 pixels"} {
		odd := write(t, "odd.png", greyPNG(t, size[0], size[1]))
		if code, printed, stderr := call("values", "--picture", odd, "--width", "20cm", "--out", filepath.Join(dir, "odd.pdf")); !strings.Contains(printed+stderr, want) {
			t.Errorf("%v: exit %d, %s %s; want %s", size, code, printed, stderr, want)
		}
	}
	good := []string{"values", "--picture", pic, "--width", "175mm", "--out", filepath.Join(dir, "x.svg")}
	for _, bad := range [][3]string{
		{"--steps", "9", "2 to 7 steps"}, {"--width", "wide", "--width"}, {"--width", "0mm", "more than 0"}, {"--least-area", "big", "square millimetres"},
		{"--rule", "moon", "no rule"}, {"--rule", "hand", "cuts between them"}, {"--style", "spotted", "outlines, filled, inverted or figure"},
		{"--cuts", "a,b", "numbers with commas"}, {"--neck", "thin", "--neck"}, {"--picture", "", "values needs"}, {"--out", "x.gif", "ends in"},
	} {
		code, printed, stderr := call(append(slices.Clone(good), bad[0], bad[1])...)
		if code != 2 || printed != "" || !strings.Contains(stderr, bad[2]) {
			t.Errorf("%s %q: exit %d, %q %q; want 2 saying %q", bad[0], bad[1], code, printed, stderr, bad[2])
		}
	}
}

// greyPNG is a picture of one grey.
func greyPNG(t *testing.T, w, h int) []byte {
	t.Helper()
	img := image.NewGray(image.Rect(0, 0, w, h))
	for i := range img.Pix {
		img.Pix[i] = 140
	}
	var b bytes.Buffer
	if err := png.Encode(&b, img); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

// tiles prints a rearrangement, the same for the same seed, and writes its pages.
func TestTilesCommand(t *testing.T) {
	s, err := demo.NewSample()
	if err != nil {
		t.Fatal(err)
	}
	planFile, err := grid.Encode(s.Plan)
	if err != nil {
		t.Fatal(err)
	}
	plan, dir := write(t, "plan.json", planFile), t.TempDir()
	out := filepath.Join(dir, "t.pdf")
	code, first, stderr := call("tiles", "--plan", plan, "--seed", "5", "--picture", write(t, "p.png", s.Picture), "--out", out)
	if code != 0 || strings.Count(first, `"place"`) != s.Plan.Count() {
		t.Fatalf("exit %d, %s, %d places", code, stderr, strings.Count(first, `"place"`))
	}
	if info, err := os.Stat(out); err != nil || info.Size() < 2000 {
		t.Errorf("the pages: %v, %v", info, err)
	}
	if _, again, _ := call("tiles", "--plan", plan, "--seed", "5"); again != first {
		t.Error("the same seed gives another map")
	}
	if _, plain, _ := call("tiles", "--plan", plan, "--flips=false"); strings.Contains(plain, `"flip": true`) {
		t.Error("tiles are flipped where none should be")
	}
	if code, _, stderr := call("tiles"); code != 2 || !strings.Contains(stderr, "needs --plan") {
		t.Errorf("without a plan: exit %d, %q", code, stderr)
	}
}
