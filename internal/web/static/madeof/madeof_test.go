package madeof

import (
	"os"
	"strings"
	"testing"
)

// The viewfinder that browsers get is built from the sources as they are.
func TestViewfinderIsFresh(t *testing.T) {
	sum, err := Sum("../../../..")
	if err != nil {
		t.Fatal(err)
	}
	made, err := os.ReadFile("../vendor/go/made-of")
	if err != nil || strings.TrimSpace(string(made)) != sum {
		t.Errorf("the viewfinder is older than its sources (%v): go run ./scripts/viewfinder", err)
	}
	if info, err := os.Stat("../vendor/go/viewfinder.wasm.gz"); err != nil || info.Size() > 3_000_000 {
		t.Errorf("the viewfinder is %d bytes, %v; want 3 MB at most", info.Size(), err)
	}
}
