# Headers, libraries, command, man pages, a pkg-config file for each library and a CMake package.
include(CMakePackageConfigHelpers)

set(DIACHROME_PACKAGE_DIR ${CMAKE_INSTALL_LIBDIR}/cmake/diachrome)
# Two sets, so that only those who ask for the host library need what it needs.
install(TARGETS diachrome diachrome-bench EXPORT diachrome-targets
  ARCHIVE DESTINATION ${CMAKE_INSTALL_LIBDIR} LIBRARY DESTINATION ${CMAKE_INSTALL_LIBDIR})
install(EXPORT diachrome-targets NAMESPACE diachrome:: DESTINATION ${DIACHROME_PACKAGE_DIR})
if(DIACHROME_HOST)
  install(TARGETS diachrome-linux diachrome-host EXPORT diachrome-host-targets
    ARCHIVE DESTINATION ${CMAKE_INSTALL_LIBDIR} LIBRARY DESTINATION ${CMAKE_INSTALL_LIBDIR})
  install(EXPORT diachrome-host-targets NAMESPACE diachrome:: DESTINATION ${DIACHROME_PACKAGE_DIR})
  install(TARGETS diachrome-live EXPORT diachrome-live-targets
    ARCHIVE DESTINATION ${CMAKE_INSTALL_LIBDIR} LIBRARY DESTINATION ${CMAKE_INSTALL_LIBDIR})
  install(EXPORT diachrome-live-targets NAMESPACE diachrome:: DESTINATION ${DIACHROME_PACKAGE_DIR})
endif()

# config.h says what the library was built with.
file(READ include/diachrome/config.h DIACHROME_CONFIG)
string(REPLACE "#define DIA_ROM\n#elif" "#define DIA_ROM ${DIACHROME_ROM}\n#elif" DIACHROME_CONFIG "${DIACHROME_CONFIG}")
string(REPLACE "DIA_RUN 64u" "DIA_RUN ${DIACHROME_RUN}u" DIACHROME_CONFIG "${DIACHROME_CONFIG}")
string(REPLACE "DIA_STACK_RUN 1024u" "DIA_STACK_RUN ${DIACHROME_STACK_RUN}u" DIACHROME_CONFIG "${DIACHROME_CONFIG}")
file(WRITE ${CMAKE_CURRENT_BINARY_DIR}/config.h "${DIACHROME_CONFIG}")
install(DIRECTORY include/diachrome DESTINATION ${CMAKE_INSTALL_INCLUDEDIR} PATTERN config.h EXCLUDE)
install(FILES ${CMAKE_CURRENT_BINARY_DIR}/config.h DESTINATION ${CMAKE_INSTALL_INCLUDEDIR}/diachrome)

configure_package_config_file(cmake/diachrome-config.cmake.in diachrome-config.cmake
  INSTALL_DESTINATION ${DIACHROME_PACKAGE_DIR})
write_basic_package_version_file(diachrome-config-version.cmake COMPATIBILITY SameMinorVersion)
install(FILES ${CMAKE_CURRENT_BINARY_DIR}/diachrome-config.cmake
  ${CMAKE_CURRENT_BINARY_DIR}/diachrome-config-version.cmake DESTINATION ${DIACHROME_PACKAGE_DIR})

function(diachrome_pkgconfig name description requires private)
  set(PC_NAME ${name})
  set(PC_DESCRIPTION ${description})
  set(PC_REQUIRES ${requires})
  set(PC_REQUIRES_PRIVATE ${private})
  set(PC_LIBS_PRIVATE ${ARGN})
  configure_file(cmake/pkgconfig.pc.in ${name}.pc @ONLY)
  install(FILES ${CMAKE_CURRENT_BINARY_DIR}/${name}.pc
    DESTINATION ${CMAKE_INSTALL_LIBDIR}/pkgconfig)
endfunction()
diachrome_pkgconfig(diachrome "Colour animations on addressable LEDs" "" "")
diachrome_pkgconfig(diachrome-bench "Simulated LED hardware for diachrome" "diachrome" "")

if(DIACHROME_HOST)
  diachrome_pkgconfig(diachrome-linux "The pins of a small Linux computer for diachrome" "diachrome" ""
    "-lpthread")
  diachrome_pkgconfig(diachrome-host "Rig files, pictures and traces for diachrome"
    "diachrome-bench diachrome-linux" "yaml-0.1 cairo libpng zlib" "-lgif")
  diachrome_pkgconfig(diachrome-live "Rigs that play and answer on the network, for diachrome"
    "diachrome-host" "libwebsockets libmosquitto libcjson" "-lpthread")
  install(TARGETS diachrome-command RUNTIME DESTINATION ${CMAKE_INSTALL_BINDIR})
  install(FILES completions/diachrome.bash RENAME diachrome
    DESTINATION ${CMAKE_INSTALL_DATADIR}/bash-completion/completions)
  install(FILES completions/_diachrome DESTINATION ${CMAKE_INSTALL_DATADIR}/zsh/site-functions)
  install(FILES completions/diachrome.fish
    DESTINATION ${CMAKE_INSTALL_DATADIR}/fish/vendor_completions.d)
  file(GLOB DIACHROME_MAN CONFIGURE_DEPENDS man/*.1)
  install(FILES ${DIACHROME_MAN} DESTINATION ${CMAKE_INSTALL_MANDIR}/man1)
endif()
