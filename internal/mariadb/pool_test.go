package mariadb

import "testing"

// The database's cache follows the memory there is, within bounds (ours).
func TestPoolFollowsMemory(t *testing.T) {
	for memory, want := range map[uint64]uint64{0: 128, 512: 48, 1024: 64, 4096: 256, 24576: 512} {
		if got := pool(memory<<20) >> 20; got != want {
			t.Errorf("of %d MB: %d MB; want %d", memory, got, want)
		}
	}
}
