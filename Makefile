# Everything needs only Debian and Go; what else is missing is installed, and said.
GO ?= go
BIN := bin/zesty-sketch
# Static checks come through the module proxy, at this version.
STATICCHECK := $(GO) run honnef.co/go/tools/cmd/staticcheck@v0.8.2

NFPM := $(GO) run github.com/goreleaser/nfpm/v2/cmd/nfpm@v2.48.0
GOVULNCHECK := $(GO) run golang.org/x/vuln/cmd/govulncheck@v1.9.0
VERSION ?= 0.$(shell git log -1 --format=%cd --date=format:%Y%m%d.%H%M)
NAMED := -X zestysketch/internal/notices.release=$(VERSION) -X zestysketch/internal/notices.commit=$(shell git rev-parse --short=12 HEAD)

.PHONY: build demo demo-reset test race fuzz bench mutants deb vulnerabilities cluster sweep

# The look through a camera, for browsers, with the script of the Go release that starts it.
FINDER := internal/web/static/vendor/go
$(FINDER)/viewfinder.wasm.gz: go.sum $(wildcard cmd/viewfinder/*.go $(patsubst %,internal/core/%/*.go,measure plane grid picture lines photo))
	GOOS=js GOARCH=wasm CGO_ENABLED=0 $(GO) build -trimpath -buildvcs=false -ldflags "-s -w" -o $(FINDER)/viewfinder.wasm ./cmd/viewfinder
	gzip -9nf $(FINDER)/viewfinder.wasm
	cp "$$($(GO) env GOROOT)/lib/wasm/wasm_exec.js" $(FINDER)/

build: $(FINDER)/viewfinder.wasm.gz
	$(GO) build -ldflags "$(NAMED)" -o $(BIN) ./cmd/zesty-sketch

demo: $(FINDER)/viewfinder.wasm.gz ## start with demo data
	@scripts/need mariadb-server
	@$(GO) build -ldflags "$(NAMED)" -o $(BIN) ./cmd/zesty-sketch
	@exec $(BIN) demo

demo-reset: ## forget the demo's data
	rm -rf var/demo

test: $(FINDER)/viewfinder.wasm.gz ## static checks and every test, browser and database included
	@scripts/need mariadb-server galera-4 rsync haproxy nginx-light caddy chromium libnss3-tools openssl poppler-utils librsvg2-bin qpdf zbar-tools tesseract-ocr
	$(GO) vet ./...
	$(STATICCHECK) ./...
	$(GO) test -timeout 20m ./...

ARCH ?= $(shell $(GO) env GOARCH)

deb: $(FINDER)/viewfinder.wasm.gz ## a Debian package, bin/zesty-sketch_VERSION_ARCH.deb; ARCH=arm64 for another kind of computer
	CGO_ENABLED=0 GOARCH=$(ARCH) $(GO) build -trimpath -ldflags "-s -w $(NAMED)" -o $(BIN) ./cmd/zesty-sketch
	VERSION=$(VERSION) ARCH=$(ARCH) $(NFPM) package --config packaging/nfpm.yaml --packager deb --target bin/
	scripts/source $(VERSION)

vulnerabilities: ## known ones in what ships; GOVULNDB names a copy of the database
	@$(GOVULNCHECK) ./cmd/... || { echo "If the database cannot be reached, set GOVULNDB=file:///… to a copy of it."; exit 1; }

cluster: ## a lesson on three nodes and three copies, with kills
	@scripts/need mariadb-server galera-4 rsync haproxy
	$(GO) run ./scripts/cluster

race: ## the packages in which several things happen at once
	@scripts/need mariadb-server gcc libc6-dev
	$(GO) test -race -timeout 10m ./internal/store ./internal/plans ./internal/room ./internal/press ./internal/mariadb ./internal/intake

fuzz: ## ten seconds of every fuzz target, beginning with the corpus that is kept
	@scripts/fuzz 10

bench: ## the numbers of docs/performance.md
	$(GO) test -run '^$$' -bench . -benchmem ./...

sweep: ## a night's photos of chance, measured; another seed each day
	$(GO) run ./scripts/sweep -photos 60 -seed $$(date +%y%m%d)

mutants: ## which changes of core and store no test notices; hours, or SAMPLE=40 of each package
	$(GO) run ./scripts/mutants -sample $(or $(SAMPLE),0) $(wildcard internal/core/*/) internal/store
