# Completes the words of diachrome in fish. The command knows them: see `diachrome complete`.
function __diachrome_words
    set -l words (commandline -opc) (commandline -ct)
    for line in (command $words[1] complete $words[2..-1] 2>/dev/null)
        if test "$line" = ":files"
            __fish_complete_path (commandline -ct)
        else
            echo $line
        end
    end
end
complete -c diachrome -f -a '(__diachrome_words)'
