#!/bin/sh
# Uses the library as makers do: installed by pkg-config and by find_package, static and shared, and
# as a folder inside another project. Usage: install.sh BUILD-FOLDER SOURCE-FOLDER [all]   all: also
# what .ci/run has the time for
set -eu
build=$1
source=$2
prefix=$build/run/installed
work=$build/run/consumer
rm -rf "$prefix" "$work"
mkdir -p "$work"
cmake -DCMAKE_INSTALL_PREFIX="$prefix" -P "$build/cmake_install.cmake" >/dev/null

# The README's line, as it stands there, right after make.
line=$(sed -n 's/^cc program\.c \(-Iinclude [^#]*\).*/\1/p' "$source/README.md" | sed "s|build/|$build/|g")
# shellcheck disable=SC2086
(cd "$source" && cc -std=c11 examples/smallest_strip.c $line -o "$work/as-the-readme-says")
"$work/as-the-readme-says" >/dev/null

pc() { # PREFIX ARGUMENTS...: the prefix in the files is the one configured; here it is another
    PKG_CONFIG_PATH=$(dirname "$(find "$1" -name diachrome.pc)")
    export PKG_CONFIG_PATH
    pkg-config --define-variable=prefix="$@"
}
flags=$(pc "$prefix" --cflags --libs diachrome-bench)
# shellcheck disable=SC2086
cc -std=c11 "$source/examples/smallest_strip.c" $flags -o "$work/with-pkg-config"
"$work/with-pkg-config" >/dev/null
# shellcheck disable=SC2046
cc -std=c11 "$source/examples/rig_picture.c" \
    $(pc "$prefix" --static --cflags --libs diachrome-host) -o "$work/host-with-pkg-config"

# What the host library needs is asked for only by those who ask for it.
cat >"$work/CMakeLists.txt" <<EOF
cmake_minimum_required(VERSION 3.18)
project(consumer LANGUAGES C)
find_package(diachrome 0.1 REQUIRED)
if(TARGET PkgConfig::YAML OR TARGET GIF::GIF)
  message(FATAL_ERROR "find_package asks for packages of the host library")
endif()
add_executable(with-cmake $source/examples/smallest_strip.c)
target_link_libraries(with-cmake PRIVATE diachrome::bench)
find_package(diachrome 0.1 REQUIRED COMPONENTS host)
find_package(diachrome 0.1 REQUIRED COMPONENTS live)
add_executable(live live.c)
target_link_libraries(live PRIVATE diachrome::live)
add_executable(host host.c)
target_link_libraries(host PRIVATE diachrome::host)
EOF
cat >"$work/host.c" <<EOF
#include <diachrome/rig.h>
int main(void)
{
    static struct dia_rig rig;
    struct dia_diagnostic wrong;
    return dia_rig_load(&rig, "$source/demo/quay.rig.yaml", &wrong) != DIA_OK;
}
EOF
cat >"$work/live.c" <<EOF
#include <diachrome/serve.h>
int main(void)
{
    struct dia_serve_options options = {.show = "none"};
    struct dia_diagnostic wrong;
    static struct dia_rig rig;
    options.rig = &rig;
    return dia_serve_new(&options, 0, &wrong) != 0;
}
EOF
cmake -S "$work" -B "$work/build" -DCMAKE_PREFIX_PATH="$prefix" >/dev/null
cmake --build "$work/build" >/dev/null
"$work/build/with-cmake" >/dev/null
"$work/build/host"
"$work/build/live"

# Inside another project, with its own settings: no package, no tests, and the same names.
mkdir -p "$work/inside"
cat >"$work/inside/CMakeLists.txt" <<EOF
cmake_minimum_required(VERSION 3.18)
project(inside LANGUAGES C)
set(CMAKE_DISABLE_FIND_PACKAGE_PkgConfig ON)
if(BY_FETCHCONTENT)
  include(FetchContent)
  FetchContent_Declare(diachrome SOURCE_DIR $source)
  FetchContent_MakeAvailable(diachrome)
else()
  add_subdirectory($source diachrome)
endif()
add_executable(core core.c)
target_link_libraries(core PRIVATE diachrome::diachrome)
add_executable(desk EXCLUDE_FROM_ALL $source/examples/smallest_strip.c)
target_link_libraries(desk PRIVATE diachrome::bench)
EOF
cat >"$work/inside/core.c" <<EOF
#include <diachrome/diachrome.h>
#include <string.h>
int main(void)
{
    return strcmp(dia_version(), DIA_VERSION) != 0 || !dia_look_find("steady");
}
EOF
# Fetched, it is the same folder by another name. Mostly it is enough that the program finds its target.
cmake -S "$work/inside" -B "$work/inside/fetched" -DBY_FETCHCONTENT=ON >/dev/null

# A sketch in C++ takes the same header; only where there is a compiler for it.
if command -v c++ >/dev/null; then
    cat >"$work/sketch.cpp" <<EOF
#include <diachrome/diachrome.h>
int main()
{
    dia_steady steady;
    dia_steady_defaults(&steady);
    return dia_look_find("steady") != &dia_look_steady || steady.colour.r != 255;
}
EOF
    # shellcheck disable=SC2046
    c++ -Wall -Wextra -Werror "$work/sketch.cpp" $(pc "$prefix" --cflags --libs diachrome) -o "$work/sketch"
    "$work/sketch"
fi

"$prefix/bin/diachrome" --version
test -f "$prefix/share/man/man1/diachrome-check.1"
[ "${3:-}" = all ] || exit 0

# There shared, with a setting of its own, and installed from there.
cmake -S "$work/inside" -B "$work/inside/build" -DCMAKE_BUILD_TYPE=Debug -DBUILD_SHARED_LIBS=ON \
    -DDIACHROME_RUN=32 -DDIACHROME_INSTALL=ON -DCMAKE_INSTALL_PREFIX="$work/shared-prefix" >/dev/null
cmake --build "$work/inside/build" -j 2 >/dev/null
"$work/inside/build/core"
[ -z "$(find "$work/inside/build" -name 'libdiachrome-*')" ] || { echo "more than core and wire"; exit 1; }
cmake --build "$work/inside/build" -j 2 --target desk >/dev/null
"$work/inside/build/desk" >/dev/null
cmake --install "$work/inside/build" >/dev/null
cmake --build "$work/inside/fetched" -j 2 >/dev/null
"$work/inside/fetched/core"

# Only what public headers declare is seen, and programs run with it.
for library in "$work"/shared-prefix/lib*/lib*.so "$work"/shared-prefix/lib*/*/lib*.so; do
    [ -f "$library" ] || continue
    nm -D --defined-only "$library" | awk '$2 != "A" { sub(/@.*/, "", $3); print $3 }' |
        while read -r name; do
            grep -qw "$name" "$source"/include/diachrome/*.h ||
                { echo "$library shows $name, which no public header has"; exit 1; }
        done
done
flags=$(pc "$work/shared-prefix" --cflags --libs diachrome-bench)
# shellcheck disable=SC2086
cc -std=c11 "$source/examples/smallest_strip.c" $flags -o "$work/with-shared"
folder=$(dirname "$(find "$work/shared-prefix" -name libdiachrome.so)")
LD_LIBRARY_PATH=$folder "$work/with-shared" >/dev/null
LD_LIBRARY_PATH=$folder ldd "$work/with-shared" | grep -q "libdiachrome-bench.so.0.1 => $folder"
grep -q 'define DIA_RUN 32u' "$work/shared-prefix/include/diachrome/config.h"
