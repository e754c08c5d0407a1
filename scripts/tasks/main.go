// Command tasks does the five tasks that a teacher does most, in a browser and on a running
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

// task is one of the five: where it begins, and what is done.
type task struct {
	name, from string
	do         func(h *hand)
}

func tasks(picture string) []task {
	return []task{
		{"a picture to its first print", "/", func(h *hand) {
			h.press("a[href='/projects/new']", "#picture")
			h.presses++ // the file is chosen
			h.page.MustElement("#picture").MustSetFiles(picture)
			h.presses++ // and the class
			h.page.MustEval(`() => { document.getElementById("class").selectedIndex = 1 }`)
			h.press(".newproject button.btn-zest", ".rail")
			h.press("button[accesskey=k]", ".rail a[href$='/print']")
			h.press(".rail a[href$='/print']", "#choose")
			h.press(".pressbar .btn-zest", "#jobs a[href$='set.pdf']")
		}},
		{"the next lesson's pages", "/", func(h *hand) {
			h.press(".projects a[href$='/print']", "#choose")
		}},
		{"a class set on both sides", "/projects/3/print", func(h *hand) {
			h.press(".choose > details:last-of-type > summary", "input[name=duplex]")
			h.press("input[name=duplex]", "")
			h.press(".pressbar .btn-zest", "#jobs a[href$='set.pdf']")
		}},
		{"a page for home of one student", "/projects/3/wall?student=9", func(h *hand) {
			h.press("a[href$='/students/9/report']", "form[action$='/home.pdf'] button")
			h.presses++ // the page itself is a file: asked for as the browser would
			start := time.Now()
			status := h.page.MustEval(`async () => (await fetch(document.querySelector("form[action$='/home.pdf']").action + "?words=")).status`).Int()
			h.waited += time.Since(start)
			if status != 200 {
				log.Fatalf("the page for home came with %d", status)
			}
		}},
		{"a slower pace for ten students", "/classes", func(h *hand) {
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
	for _, t := range tasks(*picture) {
		h := hand{page: page.MustNavigate(*at + t.from).MustWaitLoad()}
		t.do(&h)
		fmt.Printf("%-34s %2d presses, the program %4.1f s, together about %3.0f s\n", t.name, h.presses, h.waited.Seconds(), (time.Duration(h.presses)*onePress + h.waited).Seconds())
	}
}
