# Headers, libraries, command, man pages, a pkg-config file for each library and a CMake package.
include(CMakePackageConfigHelpers)

install(TARGETS ${DIACHROME_TARGETS} EXPORT diachrome-targets
  ARCHIVE DESTINATION ${CMAKE_INSTALL_LIBDIR})
install(DIRECTORY include/diachrome DESTINATION ${CMAKE_INSTALL_INCLUDEDIR})
install(EXPORT diachrome-targets NAMESPACE diachrome::
  DESTINATION ${CMAKE_INSTALL_LIBDIR}/cmake/diachrome)

configure_package_config_file(cmake/diachrome-config.cmake.in diachrome-config.cmake
  INSTALL_DESTINATION ${CMAKE_INSTALL_LIBDIR}/cmake/diachrome)
write_basic_package_version_file(diachrome-config-version.cmake COMPATIBILITY SameMinorVersion)
install(FILES ${CMAKE_CURRENT_BINARY_DIR}/diachrome-config.cmake
  ${CMAKE_CURRENT_BINARY_DIR}/diachrome-config-version.cmake
  DESTINATION ${CMAKE_INSTALL_LIBDIR}/cmake/diachrome)

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
  diachrome_pkgconfig(diachrome-host "Rig files, pictures and traces for diachrome"
    "diachrome-bench" "yaml-0.1 cairo" "-lgif")
  install(TARGETS diachrome-command RUNTIME DESTINATION ${CMAKE_INSTALL_BINDIR})
  file(GLOB DIACHROME_MAN CONFIGURE_DEPENDS man/*.1)
  install(FILES ${DIACHROME_MAN} DESTINATION ${CMAKE_INSTALL_MANDIR}/man1)
endif()
