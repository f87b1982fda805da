#!/bin/sh
# Writes briefs of the demonstration in each form, and has an office suite open the slides and the
# spreadsheets: as many pages come out as slides went in. What it renders stays in a folder that is
# told, to be looked at; a second argument is where the first slide's picture is put.
set -eu
turret=$1
dir=$(mktemp -d)
"$turret" demo --db "$dir/demo.db" --addr 127.0.0.1:0 >"$dir/demo.log" 2>&1 &
pid=$!
trap 'kill $pid 2>/dev/null || true' EXIT
until grep -q serving "$dir/demo.log"; do sleep 1; done
for scope in "" QS-01 FR FR-01; do
	name=brief$scope
	for form in pptx xlsx pdf html; do
		"$turret" brief --db "$dir/demo.db" --period 2026-11 ${scope:+--scope $scope} --out "$dir/$name.$form"
	done
	slides=$(unzip -l "$dir/$name.pptx" | grep -c 'ppt/slides/slide[0-9]*.xml')
	for form in pptx xlsx; do
		soffice --headless -env:UserInstallation="file://$dir/profile" --convert-to pdf --outdir "$dir/$form" "$dir/$name.$form" >/dev/null 2>&1
		test -s "$dir/$form/$name.pdf" || { echo "$name.$form was not opened"; exit 1; }
	done
	pages=$(pdfinfo "$dir/pptx/$name.pdf" | awk '/^Pages:/ { print $2 }')
	test "$pages" = "$slides" || { echo "$name.pptx has $slides slides, and $pages came out"; exit 1; }
	pdftoppm -r 60 -png "$dir/pptx/$name.pdf" "$dir/pptx/$name"
	echo "$name: $slides slides, opened as slides and as a spreadsheet"
done
if [ -n "${2-}" ]; then cp "$dir/pptx/brief-01.png" "$2"; fi
echo "Pictures of the slides: $dir/pptx"
