#!/usr/bin/env bash
# Makes sure there is a Chromium for the browser tests; KILN_CHROMIUM may name one.
for name in "${KILN_CHROMIUM:-}" chromium chromium-browser google-chrome; do
  [ -n "$name" ] && command -v "$name" >/dev/null && exit 0
done
if command -v apt-get >/dev/null; then
  root=""; [ "$(id -u)" = 0 ] || root="sudo"
  echo "Installing Chromium for the browser tests ..."
  if $root apt-get update -qq >/dev/null 2>&1 &&
     $root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends chromium >/dev/null 2>&1
  then exit 0; fi
fi
echo "Chromium is needed for the browser tests and could not be installed here: install it, or name it in KILN_CHROMIUM."
exit 1
