package main

import (
	"fmt"
	"io"
	"log/slog"
	"os"
)

// envLog is the variable by which the server tells its worker how to write the log, and which may say it of both.
const envLog = "ZESTY_LOG"

// newLog returns a log in words, or a line of JSON an entry for who gathers logs, and makes it everybody's.
func newLog(to io.Writer, form string) (*slog.Logger, error) {
	var handler slog.Handler
	switch form {
	case "", "words":
		handler = slog.NewTextHandler(to, nil)
	case "json":
		handler = slog.NewJSONHandler(to, nil)
	default:
		return nil, fmt.Errorf("%w: --log or %s: wanted words or json, got %q", errUsage, envLog, form)
	}
	if err := os.Setenv(envLog, form); err != nil {
		return nil, err
	}
	log := slog.New(handler)
	slog.SetDefault(log)
	return log, nil
}
