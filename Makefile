.PHONY: demo start phone drill stop reset-demo test bench attack screenshots types lock packages rules migration coverage

demo: ## install what is missing, load the demo once, serve it
	@scripts/setup.sh
	@scripts/serve.sh start

start: ## install what is missing, serve an installation of your own, kept under own/
	@scripts/setup.sh
	@TOBBIX_FOLDER=own scripts/serve.sh start

phone: ## let a phone in your network use your own installation, through TLS, until Ctrl C
	@TOBBIX_FOLDER=own .venv/bin/tobbix phone

drill: ## restore the newest backup of your own installation where nothing can be hurt, and compare; FILE="..." another
	@scripts/setup.sh
	@scripts/drill.sh $(FILE)

stop: ## stop the demo and your own installation, with their databases
	@scripts/serve.sh stop
	@[ ! -d own ] || TOBBIX_FOLDER=own scripts/serve.sh stop

reset-demo: ## throw away what is stored and load the demo anew
	@scripts/setup.sh
	@scripts/serve.sh reset
	@scripts/serve.sh start

test: ## set up and run every check there is
	@scripts/setup.sh dev
	@scripts/check.sh

bench: ## measure, as ratios within one run; STEP="core api files" for some of it
	@scripts/setup.sh dev
	@.venv/bin/python -m tests.bench $(STEP)

attack: ## attack an instance of its own on loopback, with figures (at most 30 minutes)
	@scripts/setup.sh dev
	@.venv/bin/python -m tests.attack

screenshots: ## take the pictures of docs/screenshots from the demo data
	@scripts/setup.sh dev
	@.venv/bin/python -m tests.screenshots

types: ## write the API's document and the front end's types anew
	@scripts/setup.sh dev
	@scripts/types.sh

migration: ## write the step from the demo's stored shape to the tables of the code: NAME="what it does"
	@scripts/setup.sh dev
	@. scripts/environment.sh && .venv/bin/tobbix migrate && .venv/bin/tobbix new-step "$(NAME)"

coverage: ## run the tests without a browser and print what of the core and the services they reach
	@scripts/setup.sh dev
	@.venv/bin/pytest -n 2 --dist loadfile --ignore tests/journeys --ignore tests/served \
		--cov tobbix.core --cov tobbix.services --cov-report term:skip-covered

rules: ## write docs/rules.md anew
	@scripts/setup.sh dev
	@.venv/bin/python scripts/rules.py

packages: ## write docs/packages.md anew
	@scripts/setup.sh dev
	@.venv/bin/python scripts/packages.py

lock: ## pin the Python packages anew
	@.venv/bin/uv pip compile -q --generate-hashes --no-emit-index-url --no-header requirements-tools.in -o requirements-tools.txt
	@.venv/bin/uv pip compile -q --generate-hashes --no-emit-index-url --no-header requirements.in -o requirements.txt
	@.venv/bin/uv pip compile -q --generate-hashes --no-emit-index-url --no-header requirements-dev.in -o requirements-dev.txt
