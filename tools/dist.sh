#!/bin/sh
# One file each for Linux, Windows and macOS, with their checksums, the licences of all that
# is in them, and a unit file for a small home server.
set -eu
out=${1:-dist}
version=${VERSION:-$(git describe --tags --always --dirty 2>/dev/null || echo unversioned)}
rm -rf "$out"
mkdir -p "$out"
for target in linux/amd64 linux/arm64 windows/amd64 darwin/amd64 darwin/arm64; do
  os=${target%/*} arch=${target#*/} end=
  [ "$os" = windows ] && end=.exe
  echo "$os $arch"
  GOOS=$os GOARCH=$arch sh tools/build.sh -trimpath -ldflags "-s -w -X main.version=$version" \
    -o "$out/zephyrfield-$os-$arch$end"
done
{
  echo "Zephyr Field $version holds the following, each under its own licence."
  for os in linux windows darwin; do
    CGO_ENABLED=0 GOOS=$os go list -tags nomsgpack -deps -f '{{with .Module}}{{if not .Main}}{{.Path}} {{.Version}} {{.Dir}}{{end}}{{end}}' ./cmd/zephyrfield
  done | sort -u |
    while read -r path v dir; do
      printf '\n==== %s %s\n\n' "$path" "$v"
      find "$dir" -maxdepth 1 \( -iname 'licen[cs]e*' -o -iname 'copying*' -o -iname 'notice*' \) -type f | sort | xargs -r cat
    done
  for f in internal/web/static/*LICENSE* internal/web/static/fonts/*LICENSE*; do
    [ -f "$f" ] || continue
    printf '\n==== %s\n\n' "$f"
    cat "$f"
  done
} > "$out/LICENSES.txt"
cp tools/zephyrfield.service "$out/"
(cd "$out" && sha256sum zephyrfield-* LICENSES.txt zephyrfield.service > SHA256SUMS)
ls -l "$out"
