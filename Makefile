# What people run: `make demo`, `make demo-reset`, `make test`.
SHELL := /bin/bash
.SHELLFLAGS := -eu -o pipefail -c
.DEFAULT_GOAL := help

PORT ?= 8420
DATABASE ?= var/demo.db
CIMENTO := target/debug/cimento
WEB_SOURCES := $(shell find web/src web/public -type f -not -name schema.d.ts 2>/dev/null) web/index.html web/vite.config.ts web/package.json
RUST_SOURCES := $(shell find crates -name '*.rs' -o -name '*.sql' -o -name Cargo.toml 2>/dev/null) Cargo.toml Cargo.lock

.PHONY: help demo demo-reset build test tools test-tools fmt clippy web-check rust-test screenshots clean

help:
	@echo 'make demo        install what is missing, build, and serve the demo school'
	@echo 'make demo-reset  the same with a fresh database'
	@echo 'make test        install what is missing and run every check and test'

## Building -------------------------------------------------------------------------------------

tools:
	@./scripts/need cargo "Rust is missing: install it from your distribution or with rustup"
	@./scripts/need node "Node 20 or newer is missing: install the package nodejs"
	@./scripts/need npm "npm is missing: it comes with Node"

$(CIMENTO): $(RUST_SOURCES)
	@echo '[2/4] building the server (the first time takes several minutes) …'
	@cargo build --quiet -p cimento-server
	@touch $@

web/node_modules/.package-lock.json: web/package.json web/package-lock.json
	@echo '[1/4] installing what the page needs …'
	@cd web && npm ci --no-audit --no-fund --loglevel=error
	@touch $@

web/src/api/schema.d.ts: $(CIMENTO) web/node_modules/.package-lock.json
	@echo '[3/4] making the types of the page from the API …'
	@$(CIMENTO) openapi > target/openapi.json
	@cd web && npx --no-install openapi-typescript ../target/openapi.json -o src/api/schema.d.ts > /dev/null

web/dist/index.html: web/src/api/schema.d.ts $(WEB_SOURCES)
	@echo '[4/4] building the page …'
	@cd web && npx --no-install tsc --noEmit && npx --no-install vite build --logLevel warn
	@touch $@

build: tools web/node_modules/.package-lock.json $(CIMENTO) web/dist/index.html

demo: build
	@$(CIMENTO) demo --database $(DATABASE) --port $(PORT)

demo-reset:
	@rm -f $(DATABASE) $(DATABASE)-wal $(DATABASE)-shm
	@$(MAKE) --no-print-directory demo

## Testing --------------------------------------------------------------------------------------

test-tools: tools
	@./scripts/debian-packages chromium chromium-driver ngspice

test: test-tools fmt build web-check clippy rust-test
	@echo 'All checks passed.'

fmt:
	cargo fmt --all --check

clippy:
	cargo clippy --quiet --workspace --all-targets -- -D warnings

web-check: web/src/api/schema.d.ts
	cd web && npx --no-install tsc --noEmit && npx --no-install eslint .

rust-test: build
	cargo test --workspace

screenshots: build
	cargo run --quiet -p cimento-e2e --bin screenshots

clean:
	rm -rf target web/dist web/node_modules web/src/api/schema.d.ts
