# What bin/start, bin/test and bin/bench share: everything a fresh machine needs. Sourced, not run.

cd "$(dirname "${BASH_SOURCE[0]}")/.." || exit 1

# A step that fails is named; nothing stops without a word.
trap 'printf "This did not work: %s\n" "$BASH_COMMAND" >&2' ERR
mkdir -p storage/framework/cache/data storage/framework/views storage/logs bootstrap/cache

say() { printf '%s\n' "$*"; }
fail() { printf '%s\n' "$*" >&2; exit 1; }

# need_programs: PHP, Composer, Node and npm must be there; say what to install when they are not.
need_programs() {
    local missing=()
    command -v php > /dev/null || missing+=("PHP 8.2 or later (Debian: apt-get install php8.2-cli)")
    command -v composer > /dev/null || missing+=("Composer 2 (Debian: apt-get install composer)")
    command -v node > /dev/null || missing+=("Node.js 20.19 or later (Debian: apt-get install nodejs)")
    command -v npm > /dev/null || missing+=("npm (it comes with Node.js)")
    if [ "${#missing[@]}" -gt 0 ]; then
        say "Zap Trace needs these first:" >&2
        printf '  - %s\n' "${missing[@]}" >&2
        exit 1
    fi
    php -r 'exit(PHP_VERSION_ID >= 80200 ? 0 : 1);' || fail "PHP 8.2 or later is needed; this is $(php -r 'echo PHP_VERSION;')."
    node -e 'const [a,b]=process.versions.node.split(".").map(Number); process.exit(a>22||(a===22&&b>=12)||(a===20&&b>=19)?0:1)' \
        || fail "Node.js 20.19, or 22.12 or later, is needed; this is $(node --version)."
}

# need_packages NAME...: Debian packages that are not installed are installed when root, otherwise the command is told.
need_packages() {
    local missing=() name
    for name in "$@"; do
        dpkg-query -W -f='${Status}' "$name" 2> /dev/null | grep -q 'ok installed' || missing+=("$name")
    done
    [ "${#missing[@]}" -eq 0 ] && return 0
    if ! command -v apt-get > /dev/null; then
        fail "These are missing, and there is no apt-get here to install them: ${missing[*]}"
    fi
    if [ "$(id -u)" -ne 0 ]; then
        fail "Some system packages are missing. Install them, then run this again:
  sudo apt-get update && sudo apt-get install -y ${missing[*]}"
    fi
    say "Installing ${missing[*]} ..."
    apt-get update -qq > /dev/null || fail "apt-get update failed; is the network there?"
    DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}" > /dev/null || fail "apt-get could not install ${missing[*]}."
}

# need_extensions: the PHP extensions, by what PHP says rather than by package, since PHP may come from elsewhere.
need_extensions() {
    local version packages=() pair
    version=$(php -r 'echo PHP_MAJOR_VERSION.".".PHP_MINOR_VERSION;')
    for pair in pdo_sqlite:sqlite3 curl:curl zip:zip mbstring:mbstring dom:xml gd:gd; do
        php -m | grep -qix "${pair%%:*}" || packages+=("php${version}-${pair##*:}")
    done
    [ "${#packages[@]}" -eq 0 ] || need_packages "${packages[@]}"
}

# unchanged NAME FILE...: true when these files are as they were when NAME was last marked.
stamp() { cat "$@" 2> /dev/null | sha1sum | cut -d' ' -f1; }
unchanged() { local name=$1; shift; [ -f "storage/framework/$name.stamp" ] && [ "$(cat "storage/framework/$name.stamp")" = "$(stamp "$@")" ]; }
mark() { local name=$1; shift; stamp "$@" > "storage/framework/$name.stamp"; }

need_dependencies() {
    if [ ! -f vendor/autoload.php ] || ! unchanged composer composer.json; then
        say "Installing PHP packages ..."
        composer install --no-interaction --no-progress --quiet || fail "composer install failed; run it by hand to see why."
        mark composer composer.json
    fi
    if [ ! -d node_modules ] || ! unchanged npm package.json package-lock.json; then
        say "Installing front-end packages ..."
        npm ci --no-audit --no-fund --loglevel=error > storage/logs/npm.log 2>&1 || { cat storage/logs/npm.log >&2; fail "npm ci failed."; }
        mark npm package.json package-lock.json
    fi
}

# need_build: the page, when its sources changed since it was built.
need_build() {
    local sources
    sources=$(find resources/js resources/css resources/schemas package-lock.json vite.config.ts tsconfig.json -type f | sort)
    # shellcheck disable=SC2086
    if [ ! -f public/build/manifest.json ] || ! unchanged build $sources; then
        say "Building the page ..."
        npm run --silent build > storage/logs/build.log 2>&1 || { cat storage/logs/build.log >&2; fail "The page could not be built."; }
        # shellcheck disable=SC2086
        mark build $sources
    fi
}

need_key() {
    [ -f .env ] || cp .env.example .env
    grep -q '^APP_KEY=base64:' .env || php artisan key:generate --force --quiet
}

# need_speed: every PHP started from here on runs compiled.
need_speed() { export PHP_INI_SCAN_DIR="${PHP_INI_SCAN_DIR:-}:$PWD/bin/ini"; }
