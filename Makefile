# make demo   the demo garden, with Go alone
# make test   everything that is checked, installing what is missing
# make dist     one file each for Linux, Windows and macOS, with checksums and licences
# make agree    the facts of a garden, held against each other over all pages and against a fresh process
# make torture  kills, full disks and many requests (docs/reliability.md)

export PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD = 1
CHROMIUM = /usr/bin/chromium

.PHONY: dist demo test build tools css css-check format lint unit agree fresh crowd e2e bench fuzz torture torture-quick dependencies dependencies-check screenshots

demo:
	go run ./cmd/zephyrfield demo

test: tools css-check dependencies-check lint unit agree e2e

dist:
	sh tools/dist.sh dist

build:
	sh tools/build.sh -o bin/zephyrfield

# Debian's Chromium and the npm packages of the lock file.
tools: $(CHROMIUM) node_modules/.package-lock.json

$(CHROMIUM):
	apt-get update
	apt-get install -y --no-install-recommends chromium

node_modules/.package-lock.json: package-lock.json
	npm ci --no-audit --no-fund
	touch $@

css: tools
	npx tailwindcss -i internal/web/assets/app.css -o internal/web/static/app.css --minify

# What ships must be what the sources make.
css-check: tools
	npx tailwindcss -i internal/web/assets/app.css -o tmp/app.css --minify
	cmp tmp/app.css internal/web/static/app.css
	cmp node_modules/htmx.org/dist/htmx.min.js internal/web/static/htmx.min.js
	cmp node_modules/@fontsource-variable/bricolage-grotesque/files/bricolage-grotesque-latin-wght-normal.woff2 \
		internal/web/static/fonts/bricolage-grotesque.woff2
	cmp node_modules/@fontsource-variable/source-sans-3/files/source-sans-3-latin-wght-normal.woff2 \
		internal/web/static/fonts/source-sans-3.woff2

# Scripts and styles are written by prettier: make format.
WRITTEN = 'internal/web/assets/*.css' 'internal/web/static/js/*.js' internal/web/static/app.js internal/web/static/queue.js \
	internal/web/static/worker.js 'e2e/*.js' 'tools/*.mjs'

format: tools
	npx prettier --write $(WRITTEN)

lint: tools
	npx prettier --check $(WRITTEN)
	@test -z "$$(gofmt -l $$(git ls-files '*.go'))" || { gofmt -l $$(git ls-files '*.go'); echo "gofmt: the files above"; exit 1; }
	go vet ./...
	go tool -modfile=tools/go.mod staticcheck ./...

unit:
	go test -race -ldflags=-w -timeout 30m ./...
	YEARS=250 go test -timeout 20m -run "NoRestPassesItsTest|NoUseCaseDoesHarm" ./internal/app

# Every page tells the same of a bed, of which unit runs the beginning, and the same as a fresh process would.
agree:
	MONTHS=18 go test -count=1 ./test/agree
	CHANGES=80 go test -count=1 -timeout 20m ./test/fresh

# Three people at random on all routes.
crowd:
	REQUESTS=100000 go test -count=1 -v -timeout 120m -run Crowd ./internal/web/server

# As agree, over 2,000 changes of every kind of record.
fresh:
	CHANGES=2000 go test -count=1 -v -timeout 120m ./test/fresh

e2e: tools build
	npx playwright test --config e2e/playwright.config.js

bench: tools build
	go test -run '^$$' -bench . -benchmem ./agronomy/... ./internal/exchange/dosejson ./test/bench
	go run ./tools/startup.go
	node e2e/frames.js
	node e2e/framerate.js

# A minute each. The first run builds everything anew for it, which takes minutes.
FUZZ = go test -run '^$$' -fuzztime 60s -fuzzminimizetime 5x

fuzz:
	$(FUZZ) -fuzz FuzzRequest ./internal/exchange/dosejson
	$(FUZZ) -fuzz 'FuzzCSV$$' ./internal/exchange
	$(FUZZ) -fuzz 'FuzzXLSX$$' ./internal/exchange
	$(FUZZ) -fuzz 'FuzzArchive$$' ./internal/exchange
	$(FUZZ) -fuzz 'FuzzPlan$$' ./internal/exchange
	$(FUZZ) -fuzz 'FuzzTables$$' ./internal/exchange
	$(FUZZ) -fuzz FuzzLines ./internal/exchange/dosejson
	$(FUZZ) -fuzz FuzzSmall ./internal/photo
	$(FUZZ) -fuzz FuzzWeather ./internal/instrument
	$(FUZZ) -fuzz FuzzProbeLines ./internal/instrument
	$(FUZZ) -fuzz FuzzQuery ./internal/web/server
	$(FUZZ) -fuzz FuzzForm ./internal/web/server

dependencies: tools
	node tools/dependencies.mjs

dependencies-check: tools
	mkdir -p tmp
	node tools/dependencies.mjs tmp/dependencies.md
	cmp tmp/dependencies.md docs/dependencies.md

torture: build
	go run ./test/torture

torture-quick: build
	go run ./test/torture -quick

screenshots: tools build
	node e2e/screenshots.js
