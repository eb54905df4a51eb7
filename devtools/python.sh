# Sourced by start and test: makes sure there is a Python with venv to go on with.
if ! python3 -c 'import sys, venv, ensurepip; sys.exit(sys.version_info < (3, 11))' 2>/dev/null; then
    if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null; then
        echo "Installing Debian packages: python3 python3-venv"
        apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends python3 python3-venv >/dev/null
    else
        echo "Python 3.11 or newer with venv is needed. Ask an administrator to run: apt-get install python3 python3-venv" >&2
        exit 1
    fi
fi
