# The same flags everywhere, because other flags would build all modules again.
GOFLAGS_ALL := -trimpath
GO := go
# The revision of the source, for “version”; empty outside a repository.
REVISION := $(shell git describe --tags --always --dirty 2>/dev/null)
BINARIES := bin/glasspocketd bin/glasspocket

CONSOLE_SOURCES := $(shell find console/src console/public console/scripts console/index.html console/*.json console/*.ts console/*.js internal/setting/css.json internal/icon/icons.json -type f 2>/dev/null | grep -v -e node_modules -e src/api/types.ts -e openapi.json)

.PHONY: build demo test bench fmt lint clean

build: console/dist/index.html
	$(GO) build $(GOFLAGS_ALL) -ldflags="-s -w -X glasspocket/internal/program.revision=$(REVISION)" -o bin/ ./cmd/glasspocketd ./cmd/glasspocket

demo: build
	bin/glasspocketd demo

# npm ci needs no network if node_modules already matches the lock file.
console/node_modules/.package-lock.json: console/package-lock.json
	npm ci --prefix console --no-audit --no-fund
	touch $@

# The console's types are generated from the service's OpenAPI document.
console/src/api/types.ts: $(wildcard internal/wire/*.go internal/app/*/*.go internal/content/*.go internal/host/*.go internal/cue/*.go internal/diagnose/*.go internal/onpage/*.go hosts/*.go internal/asset/*.go internal/widget/manifest.go internal/widget/try.go internal/view/marks.go internal/manage/*.go internal/setting/*.go internal/render/payload.go internal/intake/intake.go) console/scripts/types.mjs
	$(GO) run $(GOFLAGS_ALL) -ldflags="-s -w" ./cmd/glasspocketd openapi > console/openapi.json
	cd console && node scripts/types.mjs < openapi.json

console/dist/index.html: console/node_modules/.package-lock.json console/src/api/types.ts $(CONSOLE_SOURCES)
	rm -rf console/dist/assets
	cd console && npx vite build --logLevel warn

test: build
	sh e2e/tools.sh
	test -z "$$(gofmt -l cmd internal console/*.go loader widgets demo e2e bench)"
	$(GO) vet $(GOFLAGS_ALL) ./...
	$(GO) tool staticcheck ./...
	cd console && npx svelte-check --fail-on-warnings --output human && npx tsc -p ../widgets/tsconfig.json && npx vitest run
	$(GO) test $(GOFLAGS_ALL) $$($(GO) list ./... | grep -v -e /e2e -e '/internal$$')
# Never cached, because Go does not know that these depend on every package and on the built programs.
	$(GO) test $(GOFLAGS_ALL) -count=1 ./internal
	$(GO) test $(GOFLAGS_ALL) -count=1 -timeout 20m -parallel 4 ./e2e/...

bench: build
	sh e2e/tools.sh
	sh bench/tools.sh
	$(GO) run $(GOFLAGS_ALL) ./bench

fmt:
	gofmt -w cmd internal console/*.go loader widgets demo e2e bench

lint:
	$(GO) vet $(GOFLAGS_ALL) ./...
	$(GO) tool staticcheck ./...
	cd console && npx svelte-check --fail-on-warnings --output human

clean:
	rm -rf bin console/dist/assets console/dist/index.html console/dist/mark.svg console/src/api/types.ts console/openapi.json
