#!/usr/bin/env bash
# Installs what building and testing need on Debian 12, says what it does, and does nothing when all is there.
set -euo pipefail
packages=(g++ cmake ninja-build ccache pkg-config git
  qt6-base-dev libqt6opengl6-dev qt6-svg-dev libeigen3-dev libassimp-dev libdxflib-dev libpolyclipping-dev nlohmann-json3-dev
  libcli11-dev libzip-dev zlib1g-dev libxml2-dev libsvgpp-dev libtbb-dev libocct-data-exchange-dev libmeshoptimizer-dev libwebp-dev libcgal-dev libfcl-dev libcairo2-dev libfreetype-dev poppler-utils librsvg2-bin libbenchmark-dev
  xvfb xauth libgl1-mesa-dri clang-format python3 python3-ezdxf python3-jsonschema python3-pil)
missing=()
for p in "${packages[@]}"; do
  [ "$(dpkg-query -W -f='${db:Status-Status}' "$p" 2>/dev/null)" = installed ] || missing+=("$p")
done
[ ${#missing[@]} -eq 0 ] && exit 0
echo "Installing ${#missing[@]} packages: ${missing[*]}"
sudo=""
[ "$(id -u)" -eq 0 ] || sudo=sudo
$sudo apt-get update -qq
DEBIAN_FRONTEND=noninteractive $sudo apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null
