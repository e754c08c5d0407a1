// Command kills tries what a school's day does to the program's memory: it kills
// program and database in turn (kill -9) while ticks, photos and class sets come
// in, and counts at the end what of all that was confirmed is lost, stands twice,
// or belongs to nobody.
//
//	go run ./scripts/kills [-kills 100]
package main

import (
	"bytes"
	"context"
	"database/sql"
	"encoding/binary"
	"flag"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"io"
	"log"
	"math/rand/v2"
	"mime/multipart"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"time"

	_ "github.com/go-sql-driver/mysql"

	"zestysketch/internal/demo"
	"zestysketch/internal/mariadb"
	"zestysketch/internal/ports"
)

// project is the demo's, with a class of that many students.
const project, students = 3, 8

// day is a school's day: what was sent, and what of it was confirmed.
type day struct {
	binary, dir, addr string
	program           *exec.Cmd
	client            *http.Client

	sync.Mutex
	ticks  map[string]bool
	photos int
	sets   int
	ended  bool
}

func main() {
	kills := flag.Int("kills", 100, "how often something is killed")
	flag.Parse()
	if err := run(*kills); err != nil {
		log.Fatal(err)
	}
}

func run(kills int) error {
	dir, err := os.MkdirTemp("", "kills")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	d := &day{binary: filepath.Join(dir, "zesty-sketch"), dir: filepath.Join(dir, "data"), ticks: map[string]bool{}}
	if out, err := exec.Command("go", "build", "-o", d.binary, "./cmd/zesty-sketch").CombinedOutput(); err != nil {
		return fmt.Errorf("building: %w: %s", err, out)
	}
	if err := d.start(); err != nil {
		return err
	}
	var work sync.WaitGroup
	for _, do := range []func(int){d.tick, d.photo, d.set} {
		work.Go(func() {
			for i := 0; !d.over(); i++ {
				do(i)
			}
		})
	}
	for i := range kills {
		time.Sleep(time.Duration(500+rand.IntN(2000)) * time.Millisecond)
		if err := d.kill(i); err != nil {
			return fmt.Errorf("kill %d: %w", i+1, err)
		}
	}
	time.Sleep(5 * time.Second)
	d.Lock()
	d.ended = true
	d.Unlock()
	work.Wait()
	time.Sleep(20 * time.Second) // sets that were under way when they died are taken again
	if err := d.program.Process.Signal(os.Interrupt); err != nil {
		return err
	}
	d.program.Wait()
	return d.count(kills)
}

func (d *day) over() bool {
	d.Lock()
	defer d.Unlock()
	return d.ended
}

// start starts the program, on the same address every time, and signs in.
func (d *day) start() error {
	if d.addr == "" {
		var err error
		if d.addr, err = ports.Address(); err != nil {
			return err
		}
	}
	d.program = exec.Command(d.binary, "demo", "--data", d.dir, "--addr", d.addr)
	d.program.Stdout, d.program.Stderr = io.Discard, io.Discard
	if err := d.program.Start(); err != nil {
		return err
	}
	for until := time.Now().Add(2 * time.Minute); time.Now().Before(until); time.Sleep(200 * time.Millisecond) {
		jar, err := cookiejar.New(nil)
		if err != nil {
			return err
		}
		c := &http.Client{Jar: jar, Timeout: 30 * time.Second, CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
		res, err := c.PostForm("http://"+d.addr+"/signin", url.Values{"email": {demo.Email}, "password": {demo.Password}})
		if err != nil {
			continue
		}
		res.Body.Close()
		if res.StatusCode == http.StatusSeeOther {
			d.Lock()
			d.client = c
			d.Unlock()
			return nil
		}
	}
	return fmt.Errorf("the program does not come up")
}

// kill kills the program or the database; the program starts its database again itself.
func (d *day) kill(i int) error {
	if i%2 == 0 {
		if err := d.program.Process.Kill(); err != nil {
			return err
		}
		d.program.Wait()
		return d.start()
	}
	b, err := os.ReadFile(filepath.Join(d.dir, "mariadb.pid"))
	if err != nil {
		return nil // it is between two lives
	}
	pid, err := strconv.Atoi(strings.TrimSpace(string(b)))
	if err != nil {
		return nil
	}
	syscall.Kill(pid, syscall.SIGKILL)
	return nil
}

// post sends a form and reports whether it was confirmed.
func (d *day) post(path, contentType string, body []byte) bool {
	d.Lock()
	c := d.client
	d.Unlock()
	res, err := c.Post(fmt.Sprintf("http://%s/projects/%d%s", d.addr, project, path), contentType, bytes.NewReader(body))
	if err != nil {
		time.Sleep(50 * time.Millisecond)
		return false
	}
	defer res.Body.Close()
	io.Copy(io.Discard, res.Body)
	return res.StatusCode == http.StatusSeeOther && !strings.Contains(res.Header.Get("Location"), "signin")
}

// tick ticks the next box of the next student.
func (d *day) tick(i int) {
	student, label := 1+i%students, fmt.Sprintf("%c%d", 'A'+i/students%7, 1+i/students/7%9)
	if d.post(fmt.Sprintf("/students/%d/ticks", student), "application/x-www-form-urlencoded", []byte("label="+label+"&on=1")) {
		d.Lock()
		d.ticks[fmt.Sprintf("%d %s", student, label)] = true
		d.Unlock()
	}
	time.Sleep(20 * time.Millisecond)
}

// photo sends a photo like no other, again until it is confirmed, as a tablet does.
func (d *day) photo(i int) {
	img := image.NewGray(image.Rect(0, 0, 600, 800))
	for n := range img.Pix {
		img.Pix[n] = 230
	}
	var number [8]byte
	binary.BigEndian.PutUint64(number[:], uint64(i))
	for n, b := range number {
		img.Set(40+40*n, 400, color.Gray{Y: b})
		for k := range 16 {
			img.Set(40+40*n+k%4, 404+k/4, color.Gray{Y: b})
		}
	}
	var file, form bytes.Buffer
	if err := jpeg.Encode(&file, img, &jpeg.Options{Quality: 100}); err != nil {
		log.Fatal(err)
	}
	w := multipart.NewWriter(&form)
	w.WriteField("student", strconv.Itoa(1+i%students))
	part, _ := w.CreateFormFile("photo", fmt.Sprintf("day-%d.jpg", i))
	part.Write(file.Bytes())
	w.Close()
	for !d.post("/check", w.FormDataContentType(), form.Bytes()) {
		if d.over() {
			return
		}
	}
	d.Lock()
	d.photos++
	d.Unlock()
	time.Sleep(100 * time.Millisecond)
}

// set orders a class set.
func (d *day) set(int) {
	if d.post("/print/jobs", "application/x-www-form-urlencoded", []byte("kind=clean&who=everyone&paper=Letter")) {
		d.Lock()
		d.sets++
		d.Unlock()
	}
	time.Sleep(2 * time.Second)
}

// count opens the database and says what became of it all.
func (d *day) count(kills int) error {
	server, err := mariadb.Start(context.Background(), d.dir)
	if err != nil {
		return err
	}
	defer server.Stop()
	db, err := sql.Open("mysql", server.DSN())
	if err != nil {
		return err
	}
	defer db.Close()
	one := func(query string) (n int) {
		if err := db.QueryRow(query).Scan(&n); err != nil {
			log.Printf("%s: %v", query, err)
			return -1
		}
		return n
	}
	lost := 0
	for key := range d.ticks {
		var student, label string
		fmt.Sscanf(key, "%s %s", &student, &label)
		if one(fmt.Sprintf("SELECT COUNT(*) FROM ticks WHERE project_id = %d AND student_id = %s AND label = '%s'", project, student, label)) != 1 {
			lost++
		}
	}
	kept := one("SELECT COUNT(*) FROM check_ins c JOIN pictures p ON p.id = c.picture_id WHERE p.name LIKE 'day-%'")
	fmt.Printf("%d kills\n", kills)
	fmt.Printf("ticks:  %d confirmed, %d lost\n", len(d.ticks), lost)
	fmt.Printf("photos: %d confirmed, %d kept; %d the same photo twice; %d pictures that no check-in shows\n", d.photos, kept,
		one("SELECT COUNT(*) FROM (SELECT p.hash FROM check_ins c JOIN pictures p ON p.id = c.picture_id WHERE p.name LIKE 'day-%' GROUP BY c.student_id, p.hash HAVING COUNT(*) > 1) t"),
		one("SELECT COUNT(*) FROM pictures p WHERE p.name LIKE 'day-%' AND NOT EXISTS (SELECT 1 FROM check_ins c WHERE c.picture_id = p.id) AND NOT EXISTS (SELECT 1 FROM strays s WHERE s.picture_id = p.id)"))
	fmt.Printf("sets:   %d confirmed, %d kept; %d not finished; %d done without a file\n", d.sets, one("SELECT COUNT(*) FROM jobs WHERE kind = 'set'"),
		one("SELECT COUNT(*) FROM jobs WHERE state NOT IN ('done', 'failed')"),
		one("SELECT COUNT(*) FROM jobs j WHERE kind = 'set' AND state = 'done' AND NOT EXISTS (SELECT 1 FROM job_files f WHERE f.job_id = j.id)"))
	return nil
}
