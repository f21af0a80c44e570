# make demo   install what is missing, build, serve the demo workshop on loopback
# make test   the same set-up, then every check there is
# make bench  the benchmarks of docs/performance.md

.PHONY: demo build generate test bench

demo: build
	exec ./bin/photherm demo

build:
	scripts/setup run
	scripts/build

generate:
	scripts/generate

test:
	scripts/setup test
	scripts/test

bench:
	go test -run '^$$' -bench . -benchmem ./core/...
