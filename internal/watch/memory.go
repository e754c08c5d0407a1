package watch

import (
	"bufio"
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"strconv"
	"strings"
)

// Memory returns how many bytes of memory the program and its database have: the machine's, or what a
// control group leaves them (proc(5), cgroups(7), both versions). 0 where that is not known.
func Memory() uint64 {
	most := Meminfo("MemTotal")
	own, err := os.ReadFile("/proc/self/cgroup")
	if err != nil {
		return most
	}
	for line := range strings.Lines(string(own)) {
		part := strings.SplitN(strings.TrimSpace(line), ":", 3)
		if len(part) < 3 {
			continue
		}
		file := filepath.Join("/sys/fs/cgroup", part[2], "memory.max")
		if part[1] == "memory" {
			file = filepath.Join("/sys/fs/cgroup/memory", part[2], "memory.limit_in_bytes")
		}
		b, err := os.ReadFile(file)
		if err != nil {
			continue
		}
		if limit, err := strconv.ParseUint(strings.TrimSpace(string(b)), 10, 64); err == nil && (most == 0 || limit < most) {
			most = limit
		}
	}
	return most
}

// Meminfo returns a line of /proc/meminfo in bytes, 0 for none.
func Meminfo(name string) uint64 {
	b, err := os.ReadFile("/proc/meminfo")
	if err != nil {
		return 0
	}
	for lines := bufio.NewScanner(bytes.NewReader(b)); lines.Scan(); {
		var kB uint64
		if _, err := fmt.Sscanf(lines.Text(), name+": %d kB", &kB); err == nil {
			return kB << 10
		}
	}
	return 0
}
