package watch

import "testing"

// A machine has memory, a control group no more than it, and what is not there is 0.
func TestMemory(t *testing.T) {
	all, has := Meminfo("MemTotal"), Memory()
	if all < 64<<20 || has == 0 || has > all {
		t.Errorf("%d bytes of %d", has, all)
	}
	if n := Meminfo("MemElsewhere"); n != 0 {
		t.Errorf("what is not there: %d", n)
	}
}
