package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"log/slog"
	"os"
	"strings"
	"testing"
)

// A log is written in words or as JSON, one object a line, by the worker as by the server; nothing else is understood.
func TestLogs(t *testing.T) {
	before := slog.Default()
	t.Cleanup(func() { slog.SetDefault(before) })
	t.Setenv(envLog, "") // put back afterwards
	for form, want := range map[string]bool{"": false, "words": false, "json": true} {
		var out bytes.Buffer
		log, err := newLog(&out, form)
		if err != nil {
			t.Fatal(err)
		}
		log.Error("request failed", "request", "O5J7GMN43U")
		slog.Warn("elsewhere")
		lines := strings.Split(strings.TrimSpace(out.String()), "\n")
		var one struct{ Level, Msg, Request string }
		err = json.Unmarshal([]byte(lines[0]), &one)
		if isJSON := err == nil && one.Request == "O5J7GMN43U"; len(lines) != 2 || isJSON != want || os.Getenv(envLog) != form {
			t.Errorf("%q: %q, the worker is told %q", form, lines, os.Getenv(envLog))
		}
	}
	if _, err := newLog(&bytes.Buffer{}, "xml"); !errors.Is(err, errUsage) || !strings.Contains(err.Error(), `words or json, got "xml"`) {
		t.Errorf("xml: %v", err)
	}
}
