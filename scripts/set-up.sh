# Sourced by the commands in bin/: checks Node.js, installs packages when the lock file changed, builds when sources did.
root=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
cd "$root" || exit 1
mkdir -p .cache

fail() {
  printf '%s\n' "$1" >&2
  exit 1
}

command -v node >/dev/null 2>&1 || fail 'Node.js is missing. Install version 20.19 or newer, then run this again.'
node -e 'const [a, b] = process.versions.node.split(".").map(Number); process.exit(a > 20 || (a === 20 && b >= 19) ? 0 : 1)' ||
  fail "Node.js $(node --version) is too old; 20.19 or newer is needed."

install_packages() {
  if [ ! -f .cache/lock ] || ! cmp -s package-lock.json .cache/lock || [ ! -d node_modules ]; then
    echo 'Installing packages; the database driver is compiled where no ready one exists, which takes some minutes …'
    npm ci --no-progress --loglevel=error || fail 'The packages could not be installed. Check the network and the messages above, then run this again.'
    cp package-lock.json .cache/lock
  fi
}

# Builds when anything that goes into the build is newer than the last one.
build() {
  if [ ! -f .cache/built ] || [ ! -f packages/server/dist/main.mjs ] || [ ! -f packages/web/dist/index.html ] ||
    [ -n "$(find packages/*/src packages/web/index.html packages/web/public packages/web/vite.config.ts scripts/build.mjs package-lock.json -newer .cache/built -type f -print -quit)" ]; then
    echo 'Building …'
    node scripts/build.mjs || fail 'The build failed; see the messages above.'
    touch .cache/built
  fi
}
