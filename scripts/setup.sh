#!/usr/bin/env bash
# Installs on Debian 12 what is missing, says what it does, and does nothing when all is there.
#   scripts/setup.sh                what building and running need
#   scripts/setup.sh picture        a display that is not there, too
#   scripts/setup.sh test           and what tests and benchmarks compare with and read back by
set -euo pipefail
packages=(g++ cmake ninja-build ccache mold pkg-config
  qt6-base-dev libqt6opengl6-dev qt6-svg-dev libgl1-mesa-dri libeigen3-dev libassimp-dev libdxflib-dev libpolyclipping-dev
  nlohmann-json3-dev libcli11-dev libzip-dev zlib1g-dev libxml2-dev libsvgpp-dev libtbb-dev libocct-data-exchange-dev
  libmeshoptimizer-dev libwebp-dev libcgal-dev libcairo2-dev libfreetype-dev)
case "${1:-}" in
  "") ;;
  picture) packages+=(xvfb) ;;
  test) packages+=(xvfb git libfcl-dev libbenchmark-dev poppler-utils librsvg2-bin clang-format
          python3 python3-ezdxf python3-jsonschema python3-pil) ;;
  *) echo "usage: scripts/setup.sh [picture | test]" >&2; exit 2 ;;
esac
missing=()
for p in "${packages[@]}"; do
  [ "$(dpkg-query -W -f='${db:Status-Status}' "$p" 2>/dev/null)" = installed ] || missing+=("$p")
done
[ ${#missing[@]} -eq 0 ] && exit 0
sudo=""
[ "$(id -u)" -eq 0 ] || sudo=sudo
export DEBIAN_FRONTEND=noninteractive
$sudo apt-get update -qq
apt=(apt-get install -y -qq --no-install-recommends)
all=$("${apt[@]}" --simulate "${missing[@]}" | grep -c '^Inst ') || true
echo "Installing ${#missing[@]} packages, $all with what they need: ${missing[*]}"
if [ -n "${VICINAL_QUIET:-}" ]; then
  $sudo "${apt[@]}" "${missing[@]}" >/dev/null
else
  $sudo "${apt[@]}" -o APT::Status-Fd=1 "${missing[@]}" | awk -F: -v all="$all" -v lines="$([ -t 1 ] && echo 0 || echo 40)" '
    function say(text) { if (!lines) printf "\r  %s\033[K", text; else if (++n % lines == 0) print "  " text; fflush() }
    $1 == "dlstatus" { fetched++; say("fetching: " int($3) " %") }
    $1 == "pmstatus" && $4 ~ /^Installed / { say("installed: " ++done " of " all) }
    END { if (!lines) printf "\r\033[K"; else print "  installed: " done " of " all }'
fi
