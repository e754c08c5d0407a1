// Command tasks does the tasks that a teacher does most, in a browser and on a running
// demo, and says how many presses each takes, how long the program is at it, and about how
// long a person is, who knows the way:
//
//	go run ./scripts/tasks -picture FILE [-at http://127.0.0.1:8080]
//
// It changes the demo: begin with a fresh one.
package main

import (
	"flag"
	"fmt"
	"log"
	"os"
	"strings"
	"time"

	"github.com/go-rod/rod"

	"zestysketch/internal/browser"
	"zestysketch/internal/demo"
)

// What a person takes for one press: to make up their mind, to point, to press (Card, Moran and
// Newell, The keystroke-level model, 1980; the values from memory).
const onePress = 1350*time.Millisecond + 1100*time.Millisecond + 200*time.Millisecond

// hand presses, and counts.
type hand struct {
	page    *rod.Page
	presses int
	waited  time.Duration // for the program
}

// press presses what a selector finds, and waits for what comes of it.
func (h *hand) press(what, then string) {

	h.presses++
	element := h.page.MustElement(what).MustScrollIntoView()
	start := time.Now()
	element.MustEval(`() => this.click()`)
	if then != "" {
		h.page.MustElement(then)
	}
	h.waited += time.Since(start)
}

// task is one of them: where it begins, how many presses it may take, 0 for as many as it does, and what is done.
type task struct {
	name, from string
	most       int
	do         func(h *hand)
}

func tasks(picture string) []task {
	return []task{
		{"a picture to its first print", "/", 6, func(h *hand) {
			h.press("a[href='/projects/new']", "#picture")
			h.presses++ // the file is chosen
			h.page.MustElement("#picture").MustSetFiles(picture)
			h.press(".newproject button.btn-zest", ".rail")
			h.press("button[accesskey=k]", ".rail a[href$='/print']")
			h.press(".rail a[href$='/print']", "#choose")
			h.press(".pressbar .btn-zest", "#jobs a[href$='set.pdf']")
		}},
		{"the next lesson's pages", "/", 0, func(h *hand) {
			h.press(".projects a[href$='/print']", "#choose")
		}},
		{"a class set on both sides", "/projects/3/print", 0, func(h *hand) {
			h.press(".choose > details:last-of-type > summary", "input[name=duplex]")
			h.press("input[name=duplex]", "")
			h.press(".pressbar .btn-zest", "#jobs a[href$='set.pdf']")
		}},
		{"a page for home of one student", "/projects/3/wall?student=9", 0, func(h *hand) {
			h.press("a[href$='/students/9/report']", "form[action$='/home.pdf'] button")
			h.presses++ // the page itself is a file: asked for as the browser would
			start := time.Now()
			status := h.page.MustEval(`async () => (await fetch(document.querySelector("form[action$='/home.pdf']").action + "?words=")).status`).Int()
			h.waited += time.Since(start)
			if status != 200 {
				log.Fatalf("the page for home came with %d", status)
			}
		}},
		{"a lesson begun", "/projects/2/wall", 2, func(h *hand) {
			h.press("details:has(#many-stage) > summary", "")
			loaded := h.page.MustWaitNavigation()
			h.press("button[formaction$='/begins']", "")
			loaded()
		}},
		{"a list of 28 students taken in", "/classes", 3, func(h *hand) {
			h.presses += 2 // the class's name, and the list pasted
			h.page.MustElement("#name").MustInput("8 Mole")
			h.page.MustElement("#students").MustInput(strings.Join(listed(28), "\n"))
			h.press("form:has(#students) .btn-zest, form:has(#students) .btn-leaf", "h2")
		}},
		{"a slower pace for ten students", "/classes", 0, func(h *hand) {
			h.press("details:has(> form[action$='/several']) > summary", "")
			for i := range 10 {
				h.press(fmt.Sprintf("form[action$='/several'] label:nth-of-type(%d) input", i+1), "")
			}
			h.press("form[action$='/several'] button", "main .note, main .toast, [role=status]")
		}},
	}
}

func main() {
	at := flag.String("at", "http://127.0.0.1:8080", "the running demo")
	picture := flag.String("picture", "", "a picture's file")
	flag.Parse()
	if *picture == "" {
		log.Fatal("wanted a picture's file after -picture, to begin a project with")
	}
	b, err := browser.Open()
	if err != nil {
		log.Fatal(err)
	}
	defer b.MustClose()
	page := b.MustPage(*at+"/signin").MustSetViewport(1280, 800, 1, false).Timeout(2 * time.Minute)
	page.MustElement("#email").MustInput(demo.Email)
	page.MustElement("#password").MustInput(demo.Password)
	page.MustElement("form.card-drawn button").MustClick()
	page.MustElement(".projects")
	over := 0
	for _, t := range tasks(*picture) {
		h := hand{page: page.MustNavigate(*at + t.from).MustWaitLoad()}
		t.do(&h)
		if t.most > 0 && h.presses > t.most {
			over++
			fmt.Printf("%s: at most %d presses are wanted\n", t.name, t.most)
		}
		fmt.Printf("%-34s %2d presses, the program %4.1f s, together about %3.0f s\n", t.name, h.presses, h.waited.Seconds(), (time.Duration(h.presses)*onePress + h.waited).Seconds())
	}
	if over > 0 {
		os.Exit(1)
	}
}

// listed are so many made-up names.
func listed(n int) (names []string) {
	for i := range n {
		names = append(names, fmt.Sprintf("%s%s", []string{"An", "Bri", "Co", "Dor", "El", "Fin", "Gus"}[i%7], []string{"a", "en", "is", "o"}[i/7]))
	}
	return names
}
