# Completes the words of diachrome in bash. The command knows them: see `diachrome complete`.
_diachrome()
{
    local line words full cur strip candidate
    COMPREPLY=()
    read -ra words <<<"${COMP_LINE:0:COMP_POINT}"
    [[ ${COMP_LINE:0:COMP_POINT} == *[[:space:]] ]] && words+=("")
    full=${words[-1]}
    cur=${COMP_WORDS[COMP_CWORD]}
    [[ $cur == [=:] ]] && cur= # bash ends words there; candidates go on behind
    strip=${full%"$cur"}
    while IFS= read -r line; do
        if [[ $line == :files ]]; then
            compopt -o filenames 2>/dev/null
            while IFS= read -r candidate; do
                COMPREPLY+=("$candidate")
            done < <(compgen -f -- "$cur")
            continue
        fi
        candidate=${line%%$'\t'*}
        [[ $candidate == *[=\[] || $candidate == *": " ]] && compopt -o nospace 2>/dev/null
        printf -v candidate %q "${candidate#"$strip"}"
        COMPREPLY+=("$candidate")
    done < <("${words[0]}" complete "${words[@]:1}" 2>/dev/null)
}
complete -F _diachrome diachrome
