# make demo   set up what is missing and open the window on the demo build
# make test   set up what is missing and run all that CI runs
# make quick  the tests of document, answers and core that are not slow: under a minute, no window
# make t T=tests/answers/belt   the tests of one place, without a screen
# make drawn N=400   every mend and every belt to order on so many drives drawn at random: an hour
# make fix    format, and mend what the linter can
# make install, make uninstall   put it into your home with menu entry and file type, or take it out
PY = .venv/bin/python

.PHONY: help demo setup setup-test check test quick drawn t fix screenshots bench wheel install uninstall clean fuzz

help:
	@sed -n 's/^# //p' Makefile
	@echo "also: setup, check, screenshots, bench, wheel, clean"

setup:
	@sh tools/setup.sh run

setup-test:
	@sh tools/setup.sh test

demo: setup
	.venv/bin/jovial-tack --demo

check: setup-test
	.venv/bin/ruff format --check .
	.venv/bin/ruff check .
	.venv/bin/mypy
	.venv/bin/lint-imports --no-cache
	QT_QPA_PLATFORM=offscreen $(PY) -m pytest --doctest-modules src/jovial_tack/core src/jovial_tack/document src/jovial_tack/answers src/jovial_tack/sheets

test: check
	QT_QPA_PLATFORM=offscreen $(PY) -m pytest -n 2 --dist worksteal -m "not screen" --durations=5
	QT_QPA_PLATFORM=xcb xvfb-run -a -s "-screen 0 1400x900x24" $(PY) -m pytest -m screen

quick: setup-test
	$(PY) -m pytest -n 2 -m "not slow" tests/core tests/document tests/answers

N = 400
drawn: setup-test
	$(PY) -m pytest -n 2 --drawn $(N) tests/answers/mending tests/answers/belt/test_chances.py

t: setup-test
	QT_QPA_PLATFORM=offscreen $(PY) -m pytest -m "not screen" $(T)

fix: setup-test
	.venv/bin/ruff check --fix .
	.venv/bin/ruff format .

screenshots: setup
	QT_QPA_PLATFORM=offscreen $(PY) tools/screenshots.py

bench: setup-test
	QT_QPA_PLATFORM=offscreen $(PY) tools/speed.py

# attacks the program with mutated files and random use of the window; M minutes
M ?= 10
fuzz: setup-test
	QT_QPA_PLATFORM=offscreen $(PY) tools/fuzz.py $(M)

wheel: setup-test
	$(PY) -m hatchling build -t wheel

install: setup
	@sh tools/install.sh install

uninstall:
	@sh tools/install.sh uninstall

clean:
	rm -rf .venv dist .pytest_cache .mypy_cache .ruff_cache .hypothesis
