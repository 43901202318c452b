#!/bin/bash
# The words of the command, as bash asks for them; zsh and fish where they are installed.
# Usage: completions.sh FOLDER-OF-THE-COMMAND SOURCE-FOLDER
set -eu
PATH=$1:$PATH
cd "$2"
source completions/diachrome.bash
compopt() { :; } # there is no line here whose options it could set

bad=0
try() { # LINE EXPECTED...: bash ends words at = and : too
    local line=$1
    shift
    COMP_LINE=$line COMP_POINT=${#line}
    read -ra COMP_WORDS <<<"$(sed 's/[=:]/ & /g' <<<"$line")"
    [[ $line == *[[:space:]] ]] && COMP_WORDS+=("")
    COMP_CWORD=$((${#COMP_WORDS[@]} - 1))
    _diachrome
    [ "${COMPREPLY[*]}" = "$*" ] || { echo "'$line': '${COMPREPLY[*]}', not '$*'"; bad=1; }
}
try "diachrome ren" render
try "diachrome render demo/quay.rig.yaml --sh" --show --sheet
try "diachrome render demo/quay.rig.yaml --look wi" wipe
try "diachrome render demo/quay.rig.yaml --look wipe --set so" soft=
try "diachrome render demo/quay.rig.yaml --look wipe --set from=st" start
try "diachrome render demo/quay.rig.yaml --look wipe --set from=" start end middle sides
try "diachrome plot demo/quay.rig.yaml --element hand" 'handrail\['
try "diachrome bringup demo/quay.rig.yaml --only pi" pier
try "diachrome check demo/quay" demo/quay.rig.yaml
try "diachrome glyphs demo/signs.drawings g" gull
try "diachrome glyphs demo/signs.drawings gull --rig demo/quay.rig.yaml --as bo" board
try "diachrome no-such-command x"
try "diachrome plot no-such-file --element "

if command -v fish >/dev/null; then
    said=$(fish --no-config -c "source completions/diachrome.fish; complete -C'diachrome looks hue'")
    [[ $said == hue-sweep* ]] || { echo "fish: '$said'"; bad=1; }
fi
if command -v zsh >/dev/null; then
    zsh -n completions/_diachrome || bad=1
fi
exit $bad
