# Sourced by run-demo and run-tests: makes the machine and .venv ready, or says exactly what is missing and stops.
#
#   prepare LOCKFILE PURPOSE...     PURPOSE is run, window, voice or test, as in systems.tsv
#
# The three ODD_BOLT_* variables exist so that tests can show it faked systems.

ODD_BOLT_ROOT=${ODD_BOLT_ROOT:-$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)}
ODD_BOLT_OS_RELEASE=${ODD_BOLT_OS_RELEASE:-/etc/os-release}
ODD_BOLT_VENV=${ODD_BOLT_VENV:-$ODD_BOLT_ROOT/.venv}

say() { printf 'odd-bolt: %s\n' "$*" >&2; }

# The system's name in systems.tsv, for example debian-12; empty when the file is missing.
system_name() {
    [ -r "$ODD_BOLT_OS_RELEASE" ] || return 0
    ( ID='' VERSION_ID=''; . "$ODD_BOLT_OS_RELEASE"; printf '%s-%s' "$ID" "$VERSION_ID" )
}

# Packages that systems.tsv lists for this system and these purposes.
wanted_packages() {
    local system=$1; shift
    awk -F '\t' -v name="$system" -v purposes=" $* " \
        '$1 == name && index(purposes, " " $3 " ") { print $4 }' "$ODD_BOLT_ROOT/setup/systems.tsv"
}

system_python() {
    awk -F '\t' -v name="$1" '$1 == name { print $2; exit }' "$ODD_BOLT_ROOT/setup/systems.tsv"
}

missing_packages() {
    local package
    for package in "$@"; do
        # Architecture-independent packages and foreign ones answer alike: the status line is what counts.
        case "$(dpkg-query -W -f='${Status}\n' "$package" 2>/dev/null)" in
            *'install ok installed'*) ;;
            *) printf '%s\n' "$package" ;;
        esac
    done
}

install_packages() {
    local line="apt-get install -y --no-install-recommends $*" as_root=''
    if [ "$(id -u)" != 0 ]; then
        if sudo -n true 2>/dev/null; then
            as_root='sudo -n'
        else
            say "these system packages are missing and installing them needs root. Run this line, then call again:"
            printf 'sudo apt-get update && sudo %s\n' "$line"
            exit 3
        fi
    fi
    say "installing system packages: $*"
    export DEBIAN_FRONTEND=noninteractive
    { $as_root apt-get update -qq && $as_root $line >/dev/null; } || {
        say "apt could not install them. Run this line to see why: sudo $line"
        exit 3
    }
}

prepare_system() {
    local system packages missing
    system=$(system_name)
    packages=$(wanted_packages "$system" "$@")
    if [ -z "$packages" ]; then
        say "'$system' is not in setup/systems.tsv; going on with what is installed"
        return 0
    fi
    missing=$(missing_packages $packages)
    [ -z "$missing" ] || install_packages $missing
}

# The first Python that is new enough and can make environments.
find_python() {
    local candidate
    for candidate in "${ODD_BOLT_PYTHON:-}" python3 "python$(system_python "$(system_name)")" /usr/bin/python3; do
        [ -n "$candidate" ] || continue
        if "$candidate" -c 'import sys, venv, ensurepip; sys.exit(sys.version_info < (3, 10))' 2>/dev/null; then
            printf '%s' "$candidate"
            return 0
        fi
    done
    say "no Python 3.10 or newer with venv was found; install python3 and python3-venv"
    exit 3
}

# .venv is keyed by the lock file: another lock, another environment.
prepare_environment() {
    local lock=$1 key python
    key=$(cat "$ODD_BOLT_ROOT/$lock" "$ODD_BOLT_ROOT/pyproject.toml" | sha256sum | cut -c1-16)
    [ -e "$ODD_BOLT_VENV/.ready-$lock-$key" ] && return 0
    python=$(find_python) || exit 3
    say "making .venv from $lock (once; about a minute)"
    if [ ! -x "$ODD_BOLT_VENV/bin/python" ] || ! "$ODD_BOLT_VENV/bin/python" -c '' 2>/dev/null; then
        rm -rf "$ODD_BOLT_VENV"
        "$python" -m venv "$ODD_BOLT_VENV" || exit 3
    fi
    "$ODD_BOLT_VENV/bin/python" -m pip install --quiet --disable-pip-version-check --require-hashes \
        -r "$ODD_BOLT_ROOT/$lock" || { say "installing the packages of $lock failed"; exit 3; }
    "$ODD_BOLT_VENV/bin/python" -m pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation \
        -e "$ODD_BOLT_ROOT" || { say "installing Odd Bolt into .venv failed"; exit 3; }
    rm -f "$ODD_BOLT_VENV"/.ready-"$lock"-*
    touch "$ODD_BOLT_VENV/.ready-$lock-$key"
}

prepare() {
    local lock=$1; shift
    prepare_system "$@"
    prepare_environment "$lock"
}
