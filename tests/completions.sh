#!/bin/bash
# The words of the command, as bash, fish and zsh ask for them.
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

said=$(fish --no-config -c "source completions/diachrome.fish; complete -C'diachrome looks hue'")
[[ $said == hue-sweep* ]] || { echo "fish: '$said'"; bad=1; }

# zsh on a terminal of its own: what a line is after it was completed
zsh -f <<'EOF' || bad=1
zmodload zsh/zpty
zpty shell "TERM=dumb zsh -f -i"
zpty -w shell "fpath=($PWD/completions \$fpath); autoload -U compinit; compinit -D -u
complete-it() { zle complete-word; print -r -- \"<\$BUFFER>\"; zle kill-whole-line }
zle -N complete-it; bindkey '^T' complete-it; print rea''dy"
zpty -r shell said '*ready*'
bad=0
try() { # LINE EXPECTED
    zpty -w -n shell "$1"$'\x14'
    zpty -r shell said '*<*>*'
    said=${${said##*<}%%>*}
    [[ $said == "$2" ]] || { print -r -- "zsh: '$1': '$said', not '$2'"; bad=1 }
}
try "diachrome ren" "diachrome render "
try "diachrome render demo/quay.rig.yaml --look wi" "diachrome render demo/quay.rig.yaml --look wipe "
try "diachrome render demo/quay.rig.yaml --look wipe --set so" "diachrome render demo/quay.rig.yaml --look wipe --set soft="
try "diachrome bringup demo/quay.rig.yaml --only pi" "diachrome bringup demo/quay.rig.yaml --only pier "
exit $bad
EOF
exit $bad
