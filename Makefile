.PHONY: test unit e2e bench demo lint shots vendor mutate formats

# Everything a fresh Debian machine needs beside Go and npm is installed here.
CHROMIUM := $(shell command -v chromium 2>/dev/null)

test: unit e2e

# All rooms are run again to look for races, with what is random tried less often; of
# those that take long then, the screens and what is kept, what several do at once. The
# database, which is SQLite carried over to Go, is left as it is: it has locks of its own,
# and to watch it takes four times as long. What shares nothing is not run again.
RACE = -race -short -vet=off "-gcflags=modernc.org/...=-race=false"
RACED = $(shell go list ./... | grep -vE '/(web|book|store|office|demo|bench|turret|gather|record|right|chart|tell|brief|provider|format|pages)$$|/core/|/office/(money|period|trail|check|board|sheet|asking|export|planning|weigh|baseline|judge|structure)$$')
TOGETHER := TwoForms|FormsOfTwo|AKindOfItsOwn|TooMany|Idle|Many(Pairs|ReadAtOnce)|SnapshotIsWhole|Twice|Stag|SomeoneIsLeft

# What tests write and throw away stands in memory, where there is plenty of it.
unit: export TMPDIR = $(shell [ "$$(df --output=avail -m /dev/shm 2>/dev/null | tail -1)" -gt 4000 ] 2>/dev/null && echo /dev/shm || echo "$${TMPDIR:-/tmp}")
# It is collected less often, as offices of tests are small.
unit: export GOGC = 400
unit:
	go vet ./...
	go test -vet=off ./...
	go test $(RACE) $(RACED)
	go test $(RACE) -run "$(TOGETHER)" ./internal/web ./internal/book ./internal/store ./internal/office

e2e: node_modules bin/turret
ifeq ($(CHROMIUM),)
	apt-get update -qq
	apt-get install -y -qq chromium
endif
	npm run --silent modules
	npm run --silent e2e

node_modules: package-lock.json
	PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD=1 npm ci --no-audit --no-fund
	touch node_modules

.PHONY: bin/turret
bin/turret:
	go build -o bin/turret ./cmd/turret

# The budgets of speed and memory, over a synthetic portfolio.
bench:
	go run ./bench

demo:
	go run ./cmd/turret demo

lint: node_modules
	cd tools && go build -o ../bin/ tool
	bin/staticcheck ./...
	test -z "$$(bin/gofumpt -l cmd internal bench)"
	npx prettier --check e2e 'internal/web/**/*.{css,scss,js,mjs}' '!internal/web/assets/vendor/**'

# What briefs are written as, opened by an office suite that is not ours. Nothing else needs it.
formats: bin/turret
	dpkg -s libreoffice-impress libreoffice-calc poppler-utils unzip >/dev/null 2>&1 || apt-get install -y -qq --no-install-recommends libreoffice-impress libreoffice-calc poppler-utils unzip
	sh bench/formats.sh bin/turret

# Pictures of the main views, made from the demonstration.
shots: node_modules bin/turret
	node e2e/shots.mjs

vendor: node_modules
	npm run --silent vendor

# Small breaks of the code that tests should notice; it takes about an hour.
mutate:
	cd tools && go run ./mutate -root ..
