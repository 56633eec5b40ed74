# The commands of the project. `make demo` and `make test` do all the set-up.
SHELL := /bin/bash
.DEFAULT_GOAL := help
BIN := bin/cablaggio
WEB := $(shell find web/src web/public web/index.html web/*.json web/vite.config.ts core/catalogue/part/symbols.json core/catalogue/part/inks.json core/faults/meter/meanings.json -type f 2>/dev/null)
GO := $(shell find cmd core link server store demo starts toolchain web -name '*.go' -o -name '*.sql' -o -path '*/core/*' -name '*.json' -o -path "demo/*.json" -o -path "*/programs/*" -o -path "toolchain/*")
# What runs goroutines of its own is tested with the race detector, and short: what
# is found by searching is searched for in the core's own run. The layout of random
# builds is searched no wider than usual: of several hundred one finds no room on a
# breadboard yet.
CORE = $(shell go list -f '{{if or .TestGoFiles .XTestGoFiles}}{{.ImportPath}}{{end}}' ./core/... ./cmd/... ./starts/... ./demo/... ./toolchain/... ./link/...)
DRAWN = $(shell grep -rl testkit/drawn --include='*_test.go' core | xargs -n1 dirname | sort -u | sed 's|^|./|')
SIDE := ./core/general/parallel ./core/electric/wiring ./core/judgement/check ./server/... ./store/...

# What builders' programs are compiled and run with. The application works without.
TOOLS := clang-19:clang-19 lld-19:wasm-ld-19 wasi-libc:/usr/lib/wasm32-wasi/libc.a libclang-rt-19-dev-wasm32:/usr/lib/llvm-19/lib/clang/19/lib/wasi/libclang_rt.builtins-wasm32.a python3:/usr/bin/python3

# The licences go out with the pages.
NOTICES := web/public/third-party.txt

.PHONY: help demo run build test test-wide check lint notices hooks types attack mutants bench shots clean

help: ## this list
	@grep -hE '^[a-z-]+:.*##' $(MAKEFILE_LIST) | sed 's/:.*## /\t/' | expand -t 12

demo: ## start with the demo builds
	@scripts/need mariadb-server:mariadbd
	@scripts/need $(TOOLS) || echo "Until then programs are not run; all else works."
	@$(MAKE) --silent --no-print-directory build
	@exec $(BIN) serve --demo

run: ## start without them
	@scripts/need mariadb-server:mariadbd
	@scripts/need $(TOOLS) || echo "Until then programs are not run; all else works."
	@$(MAKE) --silent --no-print-directory build
	@exec $(BIN) serve

build: $(BIN) ## front end and binary

$(BIN): web/dist/index.html $(GO) go.mod go.sum
	@echo "  building the program"
	@go build -o $@ ./cmd/cablaggio

web/dist/index.html: web/node_modules/.stamp $(WEB)
	@echo "  building the front end"
	@cd web && npm run --silent build -- --logLevel warn
	@touch web/dist/.keep

web/node_modules/.stamp: web/package-lock.json
	@echo "  fetching what the front end is built from"
	@cd web && npm ci --no-audit --no-fund --loglevel error > /dev/null
	@touch $@

web/apitypes/node_modules/.stamp: web/apitypes/package-lock.json
	@cd web/apitypes && npm ci --no-audit --no-fund --loglevel error > /dev/null
	@touch $@

types: web/apitypes/node_modules/.stamp ## generate the OpenAPI description and the TypeScript types from Go
	@go run ./cmd/cablaggio openapi > schema/openapi.json.new && mv schema/openapi.json.new schema/openapi.json
	@for f in analysis recording log checks diagnosis part; do go run ./cmd/cablaggio schema $$f > schema/$$f.schema.json.new && mv schema/$$f.schema.json.new schema/$$f.schema.json || exit 1; done
	@cd web/apitypes && npm run --silent generate > /dev/null

# As serve sets it: at Go's own setting the same tests take a fifth longer.
test: export GOGC := 400
test: ## everything: format, lint, types, core, store, server, browser
	@scripts/need mariadb-server:mariadbd chromium:chromium ngspice:ngspice $(TOOLS)
	@echo "1 of 5  building"
	@$(MAKE) --silent --no-print-directory build
	@echo "2 of 5  format, lint and types"
	@$(MAKE) --silent --no-print-directory check
	@echo "3 of 5  the core, beside ngspice, brute force and published tables"
	@go test -vet=off $(CORE)
	@echo "4 of 5  what runs side by side, with the race detector; the store in MariaDB"
	@go test -vet=off -race -short $(SIDE)
	@echo "5 of 5  the interface in Chromium"
	@go test -vet=off ./e2e

lint: ## staticcheck, which takes as long as the rest of check together when nothing is compiled yet
	@go tool staticcheck ./...

test-wide: build lint ## the same with every board, wide random searches, and the race detector throughout
	@scripts/need mariadb-server:mariadbd chromium:chromium ngspice:ngspice $(TOOLS)
	@$(MAKE) --silent --no-print-directory check
	@CABLAGGIO_WIDE=1 CABLAGGIO_DRAWS=100 go test -race -timeout 120m ./...
	@CABLAGGIO_WIDE=1 go test -timeout 120m $(filter-out ./core ./core/layout/placement,$(DRAWN))

check: web/node_modules/.stamp
	@test -z "$$(gofmt -l cmd core link server store demo starts toolchain e2e scripts web/*.go)" || { gofmt -l cmd core link server store demo starts toolchain e2e scripts web/*.go; echo "gofmt these"; exit 1; }
	@go vet ./...
	@cd web && npm run --silent lint && npm run --silent check && npm run --silent test
	@scripts/fresh
	@go run ./scripts/notices | cmp -s - $(NOTICES) || { echo "$(NOTICES) is stale: make notices"; exit 1; }

notices: web/node_modules/.stamp ## write the licences of what is in the program and its pages
	@go run ./scripts/notices > $(NOTICES).new && mv $(NOTICES).new $(NOTICES)

hooks: web/node_modules/.stamp ## look at formats and types before each commit
	@git config core.hooksPath scripts/hooks

mutants: ## changes code here and there, and says what no test notices: long; N and SEED
	@scripts/need ngspice:ngspice $(TOOLS)
	@go run ./scripts/mutants -n $(or $(N),20) -seed $(or $(SEED),0) ./core/judgement/check ./core/electric/wiring ./core/running/program ./core/faults/diagnose ./core/faults/meter ./server

attack: build ## a long one: kills, hostile requests, migrations ended midway, heavy builds
	@scripts/need mariadb-server:mariadbd
	@CABLAGGIO_WIDE=1 go test -race -count 1 -timeout 60m ./store/...
	@CABLAGGIO_WIDE=1 go test -race -count 1 -timeout 60m -run 'EveryRoute|Heavy|Small|Announced|Database' ./server

# With GOGC as serve sets it.
bench: build ## benchmarks, as ratios within one run
	@scripts/need mariadb-server:mariadbd chromium:chromium $(TOOLS)
	@GOGC=400 go test -run '^$$' -bench . -benchtime 2s ./core/... ./server/... | grep -E '^(Benchmark|ok|FAIL|---)'
	@go test -count 1 -run '^TestEditToPainted$$' -v ./e2e -args -bench | grep -vE '^(=== RUN|--- PASS|PASS)'

shots: build ## refresh docs/screenshots from the demo data
	@scripts/need mariadb-server:mariadbd chromium:chromium $(TOOLS)
	@go test -count 1 -run '^TestScreenshots$$' ./e2e -args -shots $(CURDIR)/docs/screenshots

clean: ## remove what was built, and nothing of yours
	rm -rf bin web/dist web/node_modules web/apitypes/node_modules
	git checkout -q web/dist/.keep
