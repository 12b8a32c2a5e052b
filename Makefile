# What people run: `make demo`, `make demo-reset`, `make dev`, `make test`, `make thorough`.
SHELL := /bin/bash
.SHELLFLAGS := -eu -o pipefail -c
.DEFAULT_GOAL := help

PORT ?= 8420
DATABASE ?= var/demo.db
CIMENTO := target/debug/cimento
# The program alone; before tests, everything they need too, so that nothing is compiled twice.
CARGO_BUILD ?= cargo build --quiet -p cimento-server
WEB_SOURCES := $(shell find web/src web/public -type f -not -name schema.d.ts -not -name '*.test.ts*' 2>/dev/null) web/index.html web/vite.config.ts web/package.json web/scripts/compress.js web/scripts/parts.js Cargo.lock web/package-lock.json
WEB_ALL := $(shell find web -type f -not -path '*/node_modules/*' -not -path 'web/dist/*' -not -name schema.d.ts -not -name '*.tsbuildinfo')
RUST_SOURCES := $(shell find crates -name '*.rs' -not -path '*/tests/*' -o -name '*.sql' -o -name Cargo.toml 2>/dev/null) Cargo.toml Cargo.lock

.PHONY: sbom audit parts-check help demo demo-reset dev build test thorough tools test-tools fmt clippy web-check web-test rust-test package package-test screenshots clean

help:
	@echo 'make demo        install what is missing, build, and serve the demo school'
	@echo 'make demo-reset  the same with a fresh database'
	@echo 'make dev         the same, and server and page reload as one edits'
	@echo 'make test        install what is missing and run every check and test'
	@echo 'make package     a Debian package in target/package; make package-test tries it'
	@echo 'make sbom        everything that ships and is not our own, as CycloneDX'
	@echo 'make audit       the same looked up among what is known to be unsafe; takes a network'
	@echo 'make thorough    the long comparisons; writes the tables of docs anew'

## Building -------------------------------------------------------------------------------------

tools:
	@./scripts/need cargo "Rust is missing: install it from your distribution or with rustup"
	@./scripts/need node "Node 20 or newer is missing: install the package nodejs"
	@./scripts/need npm "npm is missing: it comes with Node"

$(CIMENTO): $(RUST_SOURCES)
	@echo '[2/4] building the server (the first time takes several minutes) …'
	@$(CARGO_BUILD)
	@touch $@

web/node_modules/.package-lock.json: web/package.json web/package-lock.json
	@echo '[1/4] installing what the page needs …'
	@cd web && npm ci --no-audit --no-fund --loglevel=error
	@touch $@

web/src/api/schema.d.ts: $(CIMENTO) web/node_modules/.package-lock.json
	@echo '[3/4] making the types of the page from the API …'
	@$(CIMENTO) openapi > target/openapi.new
	@if ! cmp -s target/openapi.new target/openapi.json || [ ! -e $@ ]; then \
	  cp target/openapi.new target/openapi.json; cd web && npm run --silent types > /dev/null; \
	fi

web/dist/index.html: web/src/api/schema.d.ts $(WEB_SOURCES)
	@echo '[4/4] building the page …'
	@cd web && npx --no-install tsc --noEmit && npx --no-install vite build --logLevel warn && node scripts/parts.js notices dist/notices.txt && node scripts/compress.js
	@touch $@

build: tools web/node_modules/.package-lock.json $(CIMENTO) web/dist/index.html

demo: build
	@$(CIMENTO) demo --term --database $(DATABASE) --port $(PORT)

demo-reset:
	@$(MAKE) --no-print-directory build
	@$(CIMENTO) demo --reset --term --database $(DATABASE) --port $(PORT)

dev: build
	@./scripts/dev $(CIMENTO) $(DATABASE)

## Testing --------------------------------------------------------------------------------------

test-tools: tools
	@./scripts/need clippy-driver "Rust's linter is missing: install clippy from your distribution or with rustup"
	@./scripts/debian-packages chromium chromium-driver ngspice

# The linter stands in for the compiler, so that everything is compiled once and not once more to be linted.
test: export CARGO_BUILD := cargo build --quiet --all-targets
test: export RUSTC_WORKSPACE_WRAPPER := clippy-driver
test: export CLIPPY_ARGS := -Dwarnings__CLIPPY_HACKERY__
test: test-tools fmt
	@$(MAKE) --no-print-directory build
	@$(MAKE) --no-print-directory parts-check web-check web-test rust-test
	@echo 'All checks passed.'

fmt:
	cargo fmt --all --check

clippy:
	cargo clippy --quiet --all-targets -- -D warnings

# The page is looked at again where something of it has changed, or of what the API says of itself.
web-check: target/web-checked
target/web-checked: web/src/api/schema.d.ts $(WEB_ALL)
	cd web && npm run --silent check
	@touch $@

# Whether what is not our own may be used, and comes from where it should; and all of what ships, as a list.
parts-check: target/parts-checked
target/parts-checked: web/node_modules/.package-lock.json Cargo.lock web/package-lock.json web/scripts/parts.js
	cd web && node scripts/parts.js check
	@touch $@

sbom: web/node_modules/.package-lock.json
	@mkdir -p target
	@cd web && node scripts/parts.js sbom ../target/cimento.cdx.json
	@echo target/cimento.cdx.json

# The same with what is known to be unsafe, where that can be looked up.
audit:
	@cargo deny --version > /dev/null 2>&1 || cargo install --locked cargo-deny
	cargo deny check

web-test: target/web-tested
target/web-tested: web/src/api/schema.d.ts $(WEB_ALL)
	cd web && npm run --silent test
	@touch $@

# Browsers wait for pages while all else is computed, so that both go on at once. Tests of one program share what a lesson is
# held against: a process for each test would work it out for each. One run tells all that is broken.
TEST_PROGRAMS := $(sort $(basename $(notdir $(wildcard crates/*/tests/*.rs)) $(notdir $(patsubst %/main.rs,%,$(wildcard crates/*/tests/*/main.rs)))))
rust-test: build
	@cargo test --quiet --doc
	@cargo test --no-fail-fast --test page > target/browsers.log 2>&1 & browsers=$$!; failed=0; \
	cargo test --no-fail-fast --lib $(patsubst %,--test %,$(filter-out page,$(TEST_PROGRAMS))) || failed=1; \
	wait $$browsers || failed=1; cat target/browsers.log; exit $$failed

# A Debian package, and what becomes of it in a root that is thrown away.
package: web/dist/index.html
	@cargo build --quiet --release -p cimento-server
	@./scripts/package

package-test: web/dist/index.html
	@./scripts/debian-packages curl binutils systemd
	@cargo build --quiet --release -p cimento-server
	@./scripts/package-test

# What takes too long for every change: all of the records, of ngspice, of sharpness, random soundness.
thorough: test-tools build
	./scripts/thorough

screenshots: build
	cargo run --quiet -p cimento-e2e -- screenshots

clean:
	rm -rf target web/dist web/node_modules web/src/api/schema.d.ts
