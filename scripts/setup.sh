# Shell functions for ./start and ./test: each step runs only when what it depends on has changed.

# What Python makes of its sources is kept, whatever the caller wants elsewhere: else each of many processes makes it anew.
unset PYTHONDONTWRITEBYTECODE

fail() {
    echo "$1" >&2
    exit 2
}

need_python() {
    PYTHON="${PYTHON:-$(command -v python3.11 || command -v python3 || true)}"
    [ -n "$PYTHON" ] || fail "Python 3.11 or newer is missing. Install it first: apt-get install python3 python3-venv"
    "$PYTHON" -c 'import sys; sys.exit(sys.version_info < (3, 11))' \
        || fail "Python 3.11 or newer is needed, and $PYTHON is $("$PYTHON" -V 2>&1)."
    "$PYTHON" -c 'import venv, ensurepip' 2>/dev/null \
        || fail "Python's venv is missing. Install it first: apt-get install python3-venv"
}

need_node() {
    command -v node >/dev/null && command -v npm >/dev/null \
        || fail "Node 20 or newer with npm is missing. Install it first."
    [ "$(node -p 'process.versions.node.split(".")[0]')" -ge 20 ] || fail "Node 20 or newer is needed, and this is $(node -v)."
}

# stamped STAMP FINGERPRINT COMMAND...: runs the command unless the stamp holds the fingerprint.
stamped() {
    local stamp="$1" fingerprint="$2"
    shift 2
    [ -f "$stamp" ] && [ "$(cat "$stamp")" = "$fingerprint" ] && return 0
    "$@" || return 1
    printf '%s' "$fingerprint" > "$stamp"
}

fingerprint() { cat "$@" | sha256sum | cut -d' ' -f1; }

install_python() {
    echo "Installing the Python packages ..."
    [ -x .venv/bin/python ] || "$PYTHON" -m venv .venv
    .venv/bin/python -m pip install --quiet --no-compile --disable-pip-version-check --require-hashes -r requirements.lock
}

setup_python() { stamped .venv/installed "$(fingerprint requirements.lock)" install_python || fail "The Python packages could not be installed."; }

KERNEL=geduld/worlds/kernel

compile_kernel() {
    echo "Compiling the floor's physics, once ..."
    find "$KERNEL/__pycache__" -mindepth 1 -maxdepth 1 -type d -exec rm -rf {} + 2>/dev/null
    .venv/bin/python -m geduld.worlds.floor && mkdir -p "$KERNEL/__pycache__"
}

setup_kernel() {
    stamped "$KERNEL/__pycache__/compiled" "$(fingerprint "$KERNEL"/*.py requirements.lock)" compile_kernel \
        || fail "The floor's physics could not be compiled."
}

install_web() {
    echo "Installing the web packages ..."
    npm --prefix web ci --silent --no-fund --no-audit
}

make_api() { npm --prefix web run --silent api >/dev/null; }

build_web() {
    echo "Building the web app ..."
    npm --prefix web run --silent build -- --logLevel warn || return 1
    .venv/bin/python -m whitenoise.compress --quiet web/dist
}

setup_web_packages() {
    stamped web/node_modules/.installed "$(fingerprint web/package.json web/package-lock.json)" install_web \
        || fail "The web packages could not be installed."
}

setup_web() {
    [ -d web/src/api/generated ] || rm -f web/api.stamp
    stamped web/api.stamp "$(fingerprint web/openapi.json web/openapi-ts.config.ts web/package-lock.json)" make_api \
        || fail "The web app's client could not be made from web/openapi.json."
    local sources
    sources="$(find web/src web/public web/index.html web/vite.config.ts web/package-lock.json -type f | LC_ALL=C sort | tr '\n' '\0' | xargs -0 sha256sum | sha256sum | cut -d' ' -f1)"
    [ -f web/dist/index.html ] || rm -f web/dist.stamp
    stamped web/dist.stamp "$sources" build_web || fail "The web app could not be built."
}

# together COMMAND COMMAND: both at once; fails when either does.
together() {
    "$1" &
    local beside=$!
    local good=0
    "$2" || good=$?
    wait "$beside" || good=$?
    return "$good"
}

# Python and its physics take one processor, and the web another.
setup_packages() { together setup_python setup_web_packages || exit 2; }
setup_kernel_and_web() { together setup_kernel setup_web || exit 2; }

install_packages() {
    local sudo=""
    [ "$(id -u)" -eq 0 ] || sudo="sudo"
    $sudo apt-get update -qq
    $sudo env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "$@" >/dev/null
}

# Chromium without windows: of the whole browser the tests would draw twice as much.
setup_browser() {
    [ -x /usr/lib/chromium/chromium-headless-shell ] && [ -x /usr/bin/chromedriver ] && fc-list 2>/dev/null | grep -q . && return 0
    echo "Installing headless Chromium for the browser tests ..."
    install_packages chromium-headless-shell chromium-driver fontconfig fonts-dejavu-core || [ -x /usr/bin/chromium ] \
        || fail "Chromium could not be installed. Install it first: apt-get install chromium-headless-shell chromium-driver"
}

# The tests hold the reading of C programs against what a real compiler makes of them.
setup_compiler() {
    command -v g++ >/dev/null && return 0
    echo "Installing g++ for the tests of C programs ..."
    install_packages g++ libc6-dev
}
