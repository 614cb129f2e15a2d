# Two commands matter: make demo, make test. Each does its own set-up.
export GOFLAGS := -buildvcs=false
NODE_MODULES := web/node_modules/.package-lock.json
WEB_SOURCES := $(shell find web/src web/index.html web/package.json web/vite.config.ts web/tsconfig.json \
	-type f 2>/dev/null) craft/measure/units.json
GO_SOURCES := $(shell find . -name '*.go' -not -path './web/node_modules/*') \
	$(shell find craft store -name '*.csv' -o -name '*.sql') craft/measure/units.json go.mod go.sum

.PHONY: demo run build test check setup setup-test types bench clean

demo: setup build
	./bin/idletimber demo

run: setup build
	./bin/idletimber serve

build: bin/idletimber

bin/idletimber: $(GO_SOURCES) web/dist/index.html
	go build -o $@ .

web/dist/index.html: $(NODE_MODULES) $(WEB_SOURCES)
	cd web && npm run --silent build && touch dist/.gitkeep

$(NODE_MODULES): web/package.json web/package-lock.json
	cd web && npm ci --no-audit --no-fund --silent && touch node_modules/.package-lock.json

setup:
	@scripts/need postgresql

setup-test: setup
	@scripts/need chromium poppler-utils pgbouncer

# All checks and all tests.
test: setup-test build check
	go test -timeout 30m $$(go list ./... | grep -v -e /server$$ -e /e2e$$)
	go test -timeout 60m -p 1 ./server ./e2e
	cd web && npm run --silent test

check: $(NODE_MODULES)
	@test -z "$$(gofmt -l $$(git ls-files '*.go'))" || \
		{ gofmt -l $$(git ls-files '*.go'); echo "run gofmt -w on these"; exit 1; }
	go vet ./...
	cd web && npm run --silent typecheck && npm run --silent lint && npm run --silent format
	@$(MAKE) --no-print-directory types TYPES=$(CURDIR)/web/node_modules/.schema.d.ts
	@cmp -s web/node_modules/.schema.d.ts web/src/api/schema.d.ts || \
		{ echo "web/src/api/schema.d.ts is stale: run make types"; exit 1; }

# TypeScript types from the Go ones.
TYPES := $(CURDIR)/web/src/api/schema.d.ts
types: $(NODE_MODULES)
	@go run . openapi > web/node_modules/.openapi.json
	@cd web && npx openapi-typescript node_modules/.openapi.json -o $(TYPES) >/dev/null

bench:
	go test -run xxx -bench . ./craft/... ./server

clean:
	rm -rf bin web/dist/* web/node_modules
