module zestysketch

go 1.26.0

require (
	github.com/rwcarlsen/goexif v0.0.0-20190401172101-9e8deecbddbd
	golang.org/x/image v0.47.0
	gonum.org/v1/gonum v0.17.0
)
