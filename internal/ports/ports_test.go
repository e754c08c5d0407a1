package ports

import (
	"net"
	"os"
	"strconv"
	"strings"
	"testing"
)

// Ports differ, can be listened on, and are not among those that this system gives to
// connections going out.
func TestFree(t *testing.T) {
	found, err := Free(20)
	if err != nil || len(found) != 20 {
		t.Fatalf("%v, %v; want twenty ports", found, err)
	}
	if file, err := os.ReadFile("/proc/sys/net/ipv4/ip_local_port_range"); err == nil {
		if first, _ := strconv.Atoi(strings.Fields(string(file))[0]); first <= highest && first >= lowest {
			t.Errorf("connections going out begin at %d, servers look up to %d", first, highest)
		}
	}
	seen := map[int]bool{}
	for _, port := range found {
		if seen[port] || port < lowest || port >= highest {
			t.Errorf("port %d of %v", port, found)
		}
		seen[port] = true
		l, err := net.Listen("tcp", "127.0.0.1:"+strconv.Itoa(port))
		if err != nil {
			t.Errorf("port %d: %v", port, err)
			continue
		}
		defer l.Close()
	}
}
