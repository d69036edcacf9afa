#!/bin/sh
# Runs each story of feeder-cam.js in real engines and keeps what they print:
# V8 (Node), SpiderMonkey (js102, Debian libmozjs-102-dev), JavaScriptCore (jsc, Debian libjavascriptcoregtk-4.0-bin)
# and a byte-code engine for mobile apps (hermesc and hermes, npm package hermes-engine-cli; their folder is $1).
# An engine that prints nothing of a story has no file for it.
here=$(cd "$(dirname "$0")" && pwd)
rm -rf /tmp/feeder-cam && mkdir /tmp/feeder-cam && cp "$here/feeder-cam.js" /tmp/feeder-cam/ && cd /tmp/feeder-cam || exit 1
for story in property callback constructor evaluated cause rejection thrown-text aggregate; do
  node feeder-cam.js $story 2> "$here/v8-$story.txt"
  js102 feeder-cam.js $story > "$here/spidermonkey-$story.txt" 2>&1
  jsc -e "var STORY = '$story'" feeder-cam.js > "$here/javascriptcore-$story.txt" 2>&1
  { echo "var STORY = '$story';"; cat feeder-cam.js; } > feeder-cam.bundle
  "$1/hermesc" -w -O -g0 -emit-binary -out feeder-cam.hbc feeder-cam.bundle
  "$1/hermes" -Xes6-promise feeder-cam.hbc > "$here/bytecode-$story.txt" 2>&1
done
find "$here" -name '*.txt' -empty -delete
