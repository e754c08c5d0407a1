// Command schools measures whether a page costs more where more schools share an installation: it makes
// them, each with a class of 30 and a project, in one database, and asks for the same pages of some of
// them at 1, 10, 100 and 1,000.
//
//	go run ./scripts/schools [-most 1000] [-asks 40]
package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"log"
	"maps"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"zestysketch/internal/mariadb"
	"zestysketch/internal/store"
	"zestysketch/internal/trial"
)

const students = 30

// asked is how many of the schools are asked for their pages: the first ones.
const asked = 5

func main() {
	most := flag.Int("most", 1000, "how many schools there are at last")
	asks := flag.Int("asks", 40, "how often each page of a school is asked for")
	flag.Parse()
	if err := run(context.Background(), *most, *asks); err != nil {
		log.Fatal(err)
	}
}

func run(ctx context.Context, most, asks int) (err error) {
	dir, err := os.MkdirTemp("", "schools")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	binary, err := trial.Build(dir)
	if err != nil {
		return err
	}
	server, err := trial.NewCopy(dir, "server")
	if err != nil {
		return err
	}
	data := filepath.Join(dir, "data")
	if err := server.Start(binary, data, ""); err != nil {
		return err
	}
	defer server.Stop()
	if err := server.Ready(); err != nil {
		return err
	}
	dsn, running := mariadb.Running(data)
	if !running {
		return errors.New("the server's database does not run")
	}
	db, err := store.Open(ctx, dsn)
	if err != nil {
		return err
	}
	defer db.Close()
	base := "http://" + server.Addr
	var all []trial.Class
	for there := 1; there <= most; there *= 10 {
		more, err := trial.Schools(ctx, db, len(all), there, students)
		if err != nil {
			return err
		}
		all = append(all, more...)
		if err := measure(base, all[:min(asked, len(all))], there, asks); err != nil {
			return err
		}
	}
	return nil
}

// measure asks for each page and prints how long half of the answers and 99 of 100 took.
func measure(base string, classes []trial.Class, there, asks int) error {
	took := map[string][]time.Duration{}
	for i := range classes {
		c := &classes[i]
		if c.Browser == nil {
			if err := c.SignIn(base); err != nil {
				return err
			}
		}
		for n := range asks + 1 {
			for what, path := range map[string]string{"Today": "/", "Classes": "/classes", "a wall": fmt.Sprintf("/projects/%d/wall", c.Project),
				"search": "/search?q=light", "who did what": "/school/deeds", "a tablet's page": "/s/" + c.Links[n%len(c.Links)]} {
				began := time.Now()
				if err := fetch(c.Browser, base+path); err != nil {
					return err
				}
				if n > 0 { // the first is a page's own
					took[what] = append(took[what], time.Since(began))
				}
			}
		}
	}
	for _, what := range slices.Sorted(maps.Keys(took)) {
		list := took[what]
		slices.Sort(list)
		fmt.Printf("%4d schools  %-16s half in %5.1f ms, 99 of 100 in %5.1f ms\n", there, what, milli(list[len(list)/2]), milli(list[len(list)*99/100]))
	}
	return nil
}

func milli(d time.Duration) float64 { return float64(d.Microseconds()) / 1000 }

func fetch(c *http.Client, address string) error {
	res, err := c.Get(address)
	if err != nil {
		return err
	}
	defer res.Body.Close()
	body, err := io.ReadAll(res.Body)
	if err == nil && (res.StatusCode != http.StatusOK || !strings.Contains(string(body), "<main")) {
		err = fmt.Errorf("%s: %s", address, res.Status)
	}
	return err
}
