# Everything needs only Debian and Go; what else is missing is installed, and said.
GO ?= go
BIN := bin/zesty-sketch

.PHONY: build demo demo-reset test bench

build:
	$(GO) build -o $(BIN) ./cmd/zesty-sketch

demo: ## start with demo data
	@scripts/need mariadb-server
	@$(GO) build -o $(BIN) ./cmd/zesty-sketch
	@exec $(BIN) demo

demo-reset: ## forget the demo's data
	rm -rf var/demo

test: ## vet and every test, browser and database included
	@scripts/need mariadb-server chromium poppler-utils librsvg2-bin qpdf zbar-tools
	$(GO) vet ./...
	$(GO) test -timeout 12m ./...

bench: ## the numbers of docs/performance.md
	$(GO) test -run '^$$' -bench . -benchmem ./...
