#!/bin/sh
# The month's report, as a scheduler starts it: BRIEFS holds the briefs and their rows, OUT takes the report.
# Ends with 1 where the check finds what makes flags wrong, 2 for a brief and 3 for rows that are wrong.
set -eu
: "${BRIEFS:=/briefs}" "${OUT:=/out}"
yuzen check "$BRIEFS/$1" --quiet
exec yuzen report "$BRIEFS/$1" --strict --quiet -o "$OUT/report-{latest month:%Y-%m}.html"
