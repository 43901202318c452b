# The front door. Everything happens in build/ with CMake; what is missing is installed first.
#
#   make demo      Petrel Quay: checked, rendered, traced
#   make check     the tests, on this machine and on two simulated controllers
#   make bench     how fast, as ratios
#   make single    build/single/diachrome.h and .c: core and wire in two files
#   make docs      docs/looks.md and its pictures
#   make install   PREFIX=/usr/local DESTDIR=

BUILD ?= build
BUILD_PATH = $(abspath $(BUILD))
PREFIX ?= /usr/local
JOBS ?= $(shell nproc 2>/dev/null || echo 2)
CMAKE_FLAGS ?=
# A folder that is configured already keeps what it was configured for.
export CMAKE_GENERATOR ?= Ninja
BUILT = MAKEFLAGS=--no-print-directory cmake --build $(BUILD) -j $(JOBS)

.PHONY: all demo check bench single docs install clean

all: $(BUILD)/.configured-host
	@$(BUILT)

# Two configurations of one folder: with the tests, and without them (which needs less).
$(BUILD)/.configured-host: tools/packages
	@tools/packages host
	@test -f $(BUILD)/.configured-tests || \
	  cmake -S . -B $(BUILD) -DDIACHROME_TESTS=OFF -DCMAKE_INSTALL_PREFIX=$(PREFIX) $(CMAKE_FLAGS) >$(BUILD).log || \
	  { cat $(BUILD).log; rm -f $(BUILD).log; exit 3; }
	@rm -f $(BUILD).log
	@touch $@

$(BUILD)/.configured-tests: tools/packages
	@tools/packages host tests
	@cmake -S . -B $(BUILD) -DDIACHROME_TESTS=ON -DDIACHROME_CROSS=ON -DCMAKE_INSTALL_PREFIX=$(PREFIX) $(CMAKE_FLAGS) >$(BUILD).log || \
	  { cat $(BUILD).log; rm -f $(BUILD).log; exit 3; }
	@rm -f $(BUILD).log
	@touch $@

demo: all
	@sh demo/demo.sh $(BUILD)/diachrome out

check: $(BUILD)/.configured-tests
	@$(BUILT)
	@cd $(BUILD) && ctest --output-on-failure -j $$(($(JOBS) * 4))
	@cat $(BUILD)/sizes.txt

bench: $(BUILD)/.configured-tests
	@$(BUILT)
	@sh tests/cross/cross.sh $(BUILD_PATH) all
	@failed=0; $(BUILD)/tests/look-cycles $(BUILD)/avr || failed=1; $(BUILD)/bench-speed "$(BUILD)/diachrome check demo/quay.rig.yaml >/dev/null" || failed=1; exit $$failed

SINGLE = $(wildcard $(addprefix src/, core/*.c core/look/*.c core/layout/*.c core/draw/*.c core/text/*.c core/small/*.c \
  core/large/*.c wire/*.c))
single: # asks for a compiler and nothing else
	@mkdir -p $(BUILD)/single
	@$(CC) -std=c11 -O1 -D_POSIX_C_SOURCE=200809L tools/single.c -o $(BUILD)/single/make-single
	@$(BUILD)/single/make-single . $(BUILD)/single $(SINGLE)
	@rm $(BUILD)/single/make-single
	@ls -l $(BUILD)/single/diachrome.h $(BUILD)/single/diachrome.c

docs: all
	@tools/faces $(BUILD)/diachrome
	@$(BUILD)/looks-page docs
	@find src/host src/live src/cli -name '*.c' | LC_ALL=C sort | xargs $(BUILD)/messages-page >docs/messages.md

install: all
	@cmake -DCMAKE_INSTALL_PREFIX=$(PREFIX) $(BUILD) >/dev/null
	@DESTDIR=$(DESTDIR) cmake --install $(BUILD) --prefix $(PREFIX)

clean:
	rm -rf $(BUILD) out
