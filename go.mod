module zestysketch

go 1.26.0

require (
	codeberg.org/go-pdf/fpdf v0.12.0
	github.com/go-gormigrate/gormigrate/v2 v2.1.7
	github.com/go-sql-driver/mysql v1.10.1
	github.com/rwcarlsen/goexif v0.0.0-20190401172101-9e8deecbddbd
	golang.org/x/crypto v0.58.0
	golang.org/x/image v0.47.0
	gonum.org/v1/gonum v0.17.0
	gorm.io/driver/mysql v1.6.0
	gorm.io/gorm v1.31.2
)

require (
	filippo.io/edwards25519 v1.2.0 // indirect
	github.com/jinzhu/inflection v1.0.0 // indirect
	github.com/jinzhu/now v1.1.5 // indirect
	golang.org/x/sys v0.49.0 // indirect
	golang.org/x/text v0.43.0 // indirect
)
