# Everything a fresh Debian machine needs is installed here: system libraries, a venv, the program.
SHELL := /bin/bash
PYTHON ?= python3
BIN := .venv/bin
STAMP := .venv/.ready
QT_DEBS := python3-venv libglib2.0-0 libegl1 libgl1 libxkbcommon0 libxkbcommon-x11-0 libdbus-1-3 libfontconfig1 libfreetype6 \
	libx11-xcb1 libxcb-cursor0 libxcb-icccm4 libxcb-image0 libxcb-keysyms1 libxcb-randr0 libxcb-render-util0 libxcb-shape0 \
	libxcb-xkb1 libwayland-client0 libwayland-cursor0 libwayland-egl1 xvfb xauth
export PYTHONUTF8 := 1
export LC_ALL := C.UTF-8

.PHONY: demo test screenshots bench install uninstall wheel debs check clean

demo: $(STAMP)  ## the demo shop; without a display, a guided tour into demo-output/
	$(BIN)/python -m nonna --demo --tour-if-no-display demo-output

test: $(STAMP)  ## every check
	$(BIN)/python -m ruff check .
	$(BIN)/python -m ruff format --check .
	$(BIN)/python -c 'from importlinter.cli import lint_imports_command; lint_imports_command()'
	$(BIN)/python -m mypy
	QT_QPA_PLATFORM=offscreen $(BIN)/python -m pytest -n 2

screenshots: $(STAMP)  ## one picture of each view, from the demo shop
	QT_QPA_PLATFORM=offscreen $(BIN)/python -m nonna.desk.start.tour docs/screenshots --pictures-only

bench: $(STAMP)  ## every figure as a ratio measured in one run
	QT_QPA_PLATFORM=offscreen $(BIN)/python -m benchmarks

wheel: $(STAMP)  ## dist/nonna-*.whl, to be installed by pip anywhere
	rm -rf build dist && $(BIN)/python -m pip wheel -q --no-deps -w dist .

uninstall: $(STAMP)  ## take launcher, icon, desktop entry and manual page away; says what stays
	$(BIN)/python -m nonna.desk.start.install --remove

install: $(STAMP)  ## a launcher, an icon, a desktop entry and a manual page for this user
	$(BIN)/python -m nonna.desk.start.install

debs:
	@missing=$$(for p in $(QT_DEBS); do dpkg-query -W -f='$${Status}' $$p 2>/dev/null | grep -q 'ok installed' || echo $$p; done); \
	if [ -n "$$missing" ] && [ "$$(id -u)" = 0 ] && command -v apt-get >/dev/null; then \
	  apt-get update -q && DEBIAN_FRONTEND=noninteractive apt-get install -y -q --no-install-recommends $$missing; \
	elif [ -n "$$missing" ]; then echo "If something is missing below, ask an administrator for: apt-get install" $$missing; fi

# A venv that was left half made (no pip in it) is made afresh, so that a later run mends what an earlier one could not.
$(STAMP): pyproject.toml constraints.txt | debs
	@$(BIN)/python -m pip --version >/dev/null 2>&1 || { rm -rf .venv && $(PYTHON) -m venv .venv; } || \
	  { rm -rf .venv; echo "Python cannot make its environment here: ask an administrator for: apt-get install python3-venv"; exit 1; }
	$(BIN)/python -m pip install -q -c constraints.txt -e '.[dev]'
	$(BIN)/python -m compileall -q src  # the first start is as quick as the second
	touch $@

clean:
	rm -rf .venv build dist demo-output src/*.egg-info
