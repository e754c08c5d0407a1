package picture

import (
	"runtime"
	"sync"
)

// Bands calls work for horizontal bands that together cover rows 0 to h, one
// band a processor, and returns when all are done.
func Bands(h int, work func(from, to int)) {
	n := min(runtime.GOMAXPROCS(0), h)
	if n < 2 {
		work(0, h)
		return
	}
	var all sync.WaitGroup
	for i := range n {
		all.Go(func() { work(h*i/n, h*(i+1)/n) })
	}
	all.Wait()
}
