// Package browser starts Debian's Chromium without a monitor or a network, for
// the interface's tests and for the pictures in docs/screenshots.
package browser

import (
	"fmt"
	"os"
	"strings"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/launcher"
	"github.com/go-rod/rod/lib/launcher/flags"
)

// Path is where Debian puts Chromium.
const Path = "/usr/bin/chromium"

// Open starts a browser with a profile of its own. Close it when done.
func Open() (*rod.Browser, error) { return OpenAt("") }

// OpenAt is Open for somebody whose home is a folder, where certificates that they
// trust may lie; empty for the usual one. Flags are more of its own, name=value.
func OpenAt(home string, more ...string) (*rod.Browser, error) {
	l := launcher.New()
	if home != "" {
		l = l.Env(append(os.Environ(), "HOME="+home)...)
	}
	for _, flag := range more {
		name, value, _ := strings.Cut(flag, "=")
		if l = l.Set(flags.Flag(name)); value != "" {
			l = l.Set(flags.Flag(name), value)
		}
	}
	address, err := l.Bin(Path).Headless(true).NoSandbox(true).Leakless(false).
		Set("disable-gpu").Set("disable-background-timer-throttling").Set("disable-renderer-backgrounding").Set("disable-backgrounding-occluded-windows").Set("disable-quic").Set("no-first-run").Set("disable-background-networking").
		Set("disable-component-update").Set("disable-sync").Set("force-color-profile", "srgb").Launch()
	if err != nil {
		return nil, fmt.Errorf("starting %s (package chromium): %w", Path, err)
	}
	b := rod.New().ControlURL(address)
	return b, b.Connect()
}
