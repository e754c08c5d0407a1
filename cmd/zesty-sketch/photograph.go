package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"

	"zestysketch/internal/demo"
)

// photographCommand has the pretend camera photograph pretend students'
// drawings of the demo's harbour light, to try the check table with.
func photographCommand(_ context.Context, args []string, std streams) error {
	f := flag.NewFlagSet("photograph", flag.ContinueOnError)
	project := f.Uint64("project", 3, "the project on the corner tags, as its address has it")
	students := f.String("students", "1,2,3,4", "the four students on the tags")
	wide := f.Int("width", 1500, "of the photos, pixels; 3000 makes 12 megapixels")
	out := f.String("out", "", "folder to write the photos to; it is made where it is not there")
	if err := parse(f, args, std); err != nil {
		return err
	}
	if *out == "" {
		return fmt.Errorf("%w: photograph needs --out", errUsage)
	}
	if *wide < 300 || *wide > 5000 {
		return fmt.Errorf("%w: --width wants 300 to 5000 pixels, got %d", errUsage, *wide)
	}
	var four [4]uint64
	names := strings.Split(*students, ",")
	for i := range four {
		var err error
		if len(names) == len(four) {
			four[i], err = strconv.ParseUint(strings.TrimSpace(names[i]), 10, 63)
		}
		if err != nil || four[i] == 0 {
			return fmt.Errorf("%w: --students wants four numbers with commas, got %q", errUsage, *students)
		}
	}
	photos, err := demo.Photos(*project, four, *wide)
	if err != nil {
		return err
	}
	if err := os.MkdirAll(*out, 0o755); err != nil {
		return err
	}
	var written []string
	for name, b := range photos {
		file := filepath.Join(*out, name)
		if err := os.WriteFile(file, b, 0o644); err != nil {
			return err
		}
		written = append(written, file)
	}
	slices.Sort(written)
	return json.NewEncoder(std.out).Encode(map[string]any{"files": written})
}
