#!/bin/sh
# Installs into a folder of its own and uses what is there as a maker would: with pkg-config, and
# with find_package. Usage: install.sh BUILD-FOLDER SOURCE-FOLDER
set -eu
build=$1
source=$2
prefix=$build/run/installed
rm -rf "$prefix" "$build/run/consumer"
cmake -DCMAKE_INSTALL_PREFIX="$prefix" -P "$build/cmake_install.cmake" >/dev/null

# the prefix in the files is the one configured; pkg-config can be told of another
export PKG_CONFIG_PATH=$(dirname "$(find "$prefix" -name diachrome.pc)")
flags=$(pkg-config --define-variable=prefix="$prefix" --cflags --libs diachrome-bench)
mkdir -p "$build/run/consumer"
# shellcheck disable=SC2086
cc -std=c11 "$source/examples/smallest_strip.c" $flags -o "$build/run/consumer/with-pkg-config"
"$build/run/consumer/with-pkg-config"

cat >"$build/run/consumer/CMakeLists.txt" <<EOF
cmake_minimum_required(VERSION 3.18)
project(consumer LANGUAGES C)
find_package(diachrome 0.1 REQUIRED)
add_executable(with-cmake $source/examples/smallest_strip.c)
target_link_libraries(with-cmake PRIVATE diachrome::diachrome-bench)
add_executable(host host.c)
target_link_libraries(host PRIVATE diachrome::diachrome-host)
EOF
cat >"$build/run/consumer/host.c" <<EOF
#include <diachrome/rig.h>
int main(void)
{
    static struct dia_rig rig;
    struct dia_diagnostic wrong;
    return dia_rig_load(&rig, "$source/demo/quay.rig.yaml", &wrong) != DIA_OK;
}
EOF
cmake -S "$build/run/consumer" -B "$build/run/consumer/build" -DCMAKE_PREFIX_PATH="$prefix" >/dev/null
cmake --build "$build/run/consumer/build" >/dev/null
"$build/run/consumer/build/with-cmake"
"$build/run/consumer/build/host"

# A sketch in C++ takes the same header; only where there is a compiler for it.
if command -v c++ >/dev/null; then
    cat >"$build/run/consumer/sketch.cpp" <<EOF
#include <diachrome/diachrome.h>
int main()
{
    dia_steady steady;
    dia_steady_defaults(&steady);
    return dia_look_find("steady") != &dia_look_steady || steady.colour.r != 255;
}
EOF
    # shellcheck disable=SC2086
    c++ -Wall -Wextra -Werror "$build/run/consumer/sketch.cpp" $flags -o "$build/run/consumer/sketch"
    "$build/run/consumer/sketch"
fi

"$prefix/bin/diachrome" --version
test -f "$prefix/share/man/man1/diachrome-check.1"
