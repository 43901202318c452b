#!/bin/sh
# The plain files for embedded build systems: they parse, say the version of the headers, and name
# the sources that there are. Usage: manifests.sh SOURCE-FOLDER
set -eu
cd "$1"
version=$(sed -n 's/^#define DIA_VERSION  *"\(.*\)"/\1/p' include/diachrome/version.h)
cat >"${TMPDIR:-/tmp}/manifests.$$.cmake" <<EOF
file(READ library.json text)
foreach(key name version description license)
  string(JSON value GET "\${text}" \${key})
endforeach()
string(JSON value GET "\${text}" version)
if(NOT value STREQUAL "$version")
  message(FATAL_ERROR "library.json is of version \${value}; the headers are of $version")
endif()
string(JSON count LENGTH "\${text}" build srcFilter)
math(EXPR last "\${count} - 1")
foreach(k RANGE 1 \${last})
  string(JSON filter GET "\${text}" build srcFilter \${k})
  string(REGEX REPLACE "^.<(.*)>$" "src/\\\\1" pattern "\${filter}")
  file(GLOB found \${pattern})
  if(NOT found)
    message(FATAL_ERROR "library.json: nothing is \${pattern}")
  endif()
endforeach()
EOF
cmake -P "${TMPDIR:-/tmp}/manifests.$$.cmake"
rm "${TMPDIR:-/tmp}/manifests.$$.cmake"
grep -q "^version: \"$version\"" idf_component.yml
grep -q "DIACHROME_$(echo "$version" | cut -d. -f1-2) " cmake/diachrome.map
for file in $(sed -n 's/^  kconfig: //p; s/^  cmake: \(.*\)/\1\/CMakeLists.txt/p' zephyr/module.yml); do
    test -f "$file"
done

# A build that collects sources itself, in short: what is registered compiles.
work=${TMPDIR:-/tmp}/manifests.$$
mkdir -p "$work"
cat >"$work/CMakeLists.txt" <<EOF
cmake_minimum_required(VERSION 3.18)
project(component LANGUAGES C)
function(idf_component_register)
  cmake_parse_arguments(of "" "" "SRCS;INCLUDE_DIRS" \${ARGN})
  set(n 0)
  foreach(source \${of_SRCS})
    if(NOT EXISTS \${source})
      message(FATAL_ERROR "\${source} is not there")
    endif()
    math(EXPR n "\${n} + 1")
  endforeach()
  if(n LESS 80)
    message(FATAL_ERROR "only \${n} sources")
  endif()
endfunction()
function(zephyr_library)
endfunction()
function(zephyr_library_sources)
  idf_component_register(SRCS \${ARGN})
endfunction()
function(zephyr_include_directories)
endfunction()
add_subdirectory($1 component)
set(CONFIG_DIACHROME ON)
add_subdirectory($1/zephyr module)
EOF
cmake -S "$work" -B "$work/build" >/dev/null
rm -rf "$work"
