package watch

import "syscall"

// Disk is how much room the disk of a folder has, in bytes.
type Disk struct {
	Folder      string
	Free, Total uint64
}

// Look looks at the disk of a folder; one that cannot be looked at has no size.
func Look(folder string) Disk {
	var s syscall.Statfs_t
	if err := syscall.Statfs(folder, &s); err != nil {
		return Disk{Folder: folder}
	}
	return Disk{folder, s.Bavail * uint64(s.Bsize), s.Blocks * uint64(s.Bsize)}
}

// LookAll looks at the disks of some folders.
func LookAll(folders []string) (all []Disk) {
	for _, f := range folders {
		all = append(all, Look(f))
	}
	return all
}

// A disk is nearly full below this share of it, and below so many bytes: a school's
// photos of a few weeks.
const (
	fewPercent = 10
	fewBytes   = 2 << 30
)

// NearlyFull reports whether somebody should make room soon.
func (d Disk) NearlyFull() bool {
	return d.Total > 0 && d.Free < fewBytes && d.Free*100 < d.Total*fewPercent
}
