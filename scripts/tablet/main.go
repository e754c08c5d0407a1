// Command tablet measures a student's page in a throttled browser, four times slower and on
// fast 3G: how long until the first box stands there, how large the page is, how long a tick
// takes to be seen with a network and without.
//
//	go run ./scripts/tablet -at http://127.0.0.1:8080/s/LINK
//	go run ./scripts/tablet -at http://127.0.0.1:8080 -demo var/demo
package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"os"
	"strings"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/proto"

	"zestysketch/internal/browser"
	"zestysketch/internal/mariadb"
	"zestysketch/internal/store"
)

// Fast 3G as Lighthouse has it: 1.6 Mbit/s down, 750 kbit/s up, 150 ms there and back.
const (
	down, up  = 1.6e6 / 8, 750e3 / 8
	roundTrip = 150
	slower    = 4
)

func main() {
	at := flag.String("at", "", "a student's page, from the QR code")
	data := flag.String("demo", "", "the folder of the demo that runs there: a page of its third project is looked up")
	flag.Parse()
	link, err := pageOf(*data)
	if err == nil {
		err = measure(*at + link)
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

// pageOf returns the path of a student's page in a running demo, empty where none is named.
func pageOf(data string) (string, error) {
	if data == "" {
		return "", nil
	}
	dsn, running := mariadb.Running(data)
	if !running {
		return "", errors.New("no demo runs on " + data)
	}
	ctx := context.Background()
	db, err := store.Open(ctx, dsn)
	if err != nil {
		return "", err
	}
	defer db.Close()
	p, err := db.AnyProject(ctx, 3, 0)
	if err != nil {
		return "", err
	}
	link, err := db.Link(ctx, p, p.Class.Students[0].ID)
	return "/s/" + link, err
}

func measure(at string) error {
	b, err := browser.Open()
	if err != nil {
		return err
	}
	defer b.Close()
	for range 3 {
		fresh, err := b.Incognito() // as a tablet that was never here
		if err != nil {
			return err
		}
		page := fresh.MustPage().Timeout(time.Minute)
		page.MustSetViewport(1024, 768, 1, true)
		throttle(page)
		// Nothing is painted, and no frame asked for, before the styles are there.
		page.MustEvalOnNewDocument(`(function look() {
			const box = document.querySelector("#own-picture image");
			if (box && getComputedStyle(document.body).fontFamily.includes("Hyper")) globalThis.first = performance.now();
			else requestAnimationFrame(look);
		})()`)
		page.MustNavigate(at).MustWaitLoad()
		page.MustWait(`() => globalThis.first > 0 && document.getElementById("own-drawer") !== null`)
		time.Sleep(4 * time.Second) // the whole picture comes after the first box
		fmt.Println(page.MustEval(`() => {
			const all = performance.getEntriesByType("resource").concat(performance.getEntriesByType("navigation"));
			const kb = (list) => (list.reduce((sum, e) => sum + e.transferSize, 0) / 1000).toFixed(0);
			const paint = performance.getEntriesByName("first-contentful-paint")[0]?.startTime.toFixed(0);
			const own = all.filter((e) => !e.name.endsWith("/picture"));
			return "the first box stands after " + Math.max(first, paint).toFixed(0) + " ms (first paint " + paint + "); " + kb(own) + " kB without the picture, " + kb(all) + " with it";
		}`).Str())
		for _, offline := range []bool{false, true} {
			network(page, offline)
			var seen []string
			for range 5 {
				seen = append(seen, tick(page))
				time.Sleep(700 * time.Millisecond)
			}
			fmt.Printf("a tick is seen after %s (offline: %t)\n", strings.Join(seen, ", "), offline)
		}
		page.MustClose()
	}
	return nil
}

func throttle(page *rod.Page) {
	if err := (proto.EmulationSetCPUThrottlingRate{Rate: slower}).Call(page); err != nil {
		panic(err)
	}
	network(page, false)
}

func network(page *rod.Page, offline bool) {
	if err := (proto.NetworkEnable{}).Call(page); err != nil {
		panic(err)
	}
	if err := (proto.NetworkEmulateNetworkConditions{Offline: offline, Latency: roundTrip, DownloadThroughput: down, UploadThroughput: up}).Call(page); err != nil {
		panic(err)
	}
}

// tick presses “done” as a finger does, and returns how long it took until the frame that
// shows it was painted, as the browser's own event timing has it (W3C Event Timing, in steps of 8 ms).
func tick(page *rod.Page) string {
	page.MustEval(`() => {
		globalThis.before = document.getElementById("own-label").textContent;
		globalThis.painted = new Promise((told) => new PerformanceObserver((list) => {
			for (const e of list.getEntries()) if (e.name === "click") told(e.duration);
		}).observe({ type: "event", durationThreshold: 16 }));
	}`)
	page.MustElement("#own-tick").MustClick()
	return page.MustEval(`() => painted.then((ms) => {
		const changed = document.getElementById("own-label").textContent !== before || document.getElementById("own-done").textContent !== "";
		return ms.toFixed(0) + " ms" + (changed ? "" : ", not changed");
	})`).Str()
}
