# Installed: headers, one archive per layer, the program with its demo jobs, CMake and pkg-config files. Two sets of targets: the
# core (yardpass::yardpass), and what reads and runs job files (yardpass::jobs, component "jobs"), which needs more libraries.
include(CMakePackageConfigHelpers)

set(core_targets ${yardpass_core_layers})
list(TRANSFORM core_targets PREPEND yardpass_)
set(cmake_folder ${CMAKE_INSTALL_LIBDIR}/cmake/yardpass)
install(TARGETS ${core_targets} yardpass_core EXPORT yardpass_targets ARCHIVE DESTINATION ${CMAKE_INSTALL_LIBDIR})
if(YARDPASS_BUILD_JOBS)
  install(TARGETS yardpass_job yardpass_setup yardpass_run yardpass_report yardpass_jobs EXPORT yardpass_jobs_targets
          ARCHIVE DESTINATION ${CMAKE_INSTALL_LIBDIR})
  install(EXPORT yardpass_jobs_targets NAMESPACE yardpass:: FILE yardpassJobsTargets.cmake DESTINATION ${cmake_folder})
endif()
if(YARDPASS_WITH_DXF)
  install(TARGETS yardpass_dxf EXPORT yardpass_targets ARCHIVE DESTINATION ${CMAKE_INSTALL_LIBDIR})
endif()
if(YARDPASS_WITH_LETTERING)
  install(TARGETS yardpass_lettering EXPORT yardpass_targets ARCHIVE DESTINATION ${CMAKE_INSTALL_LIBDIR})
endif()
foreach(layer ${yardpass_layers})
  if((layer STREQUAL "dxf" AND NOT YARDPASS_WITH_DXF) OR (layer STREQUAL "lettering" AND NOT YARDPASS_WITH_LETTERING))
    continue()
  endif()
  if(IS_DIRECTORY ${PROJECT_SOURCE_DIR}/include/yardpass/${layer})
    install(DIRECTORY include/yardpass/${layer} DESTINATION ${CMAKE_INSTALL_INCLUDEDIR}/yardpass)
  endif()
endforeach()
install(FILES include/yardpass/version.h include/yardpass/yardpass.h DESTINATION ${CMAKE_INSTALL_INCLUDEDIR}/yardpass)
install(EXPORT yardpass_targets NAMESPACE yardpass:: FILE yardpassTargets.cmake DESTINATION ${cmake_folder})
configure_package_config_file(cmake/yardpassConfig.cmake.in ${CMAKE_CURRENT_BINARY_DIR}/yardpassConfig.cmake
                              INSTALL_DESTINATION ${cmake_folder})
write_basic_package_version_file(${CMAKE_CURRENT_BINARY_DIR}/yardpassConfigVersion.cmake COMPATIBILITY SameMinorVersion)
install(FILES ${CMAKE_CURRENT_BINARY_DIR}/yardpassConfig.cmake ${CMAKE_CURRENT_BINARY_DIR}/yardpassConfigVersion.cmake
        DESTINATION ${cmake_folder})
file(RELATIVE_PATH pc_to_prefix /p/${CMAKE_INSTALL_LIBDIR}/pkgconfig /p)  # so that an installed copy can be moved
set(pc_libs ${yardpass_core_layers})  # static archives: users first
list(REVERSE pc_libs)
list(TRANSFORM pc_libs PREPEND -lyardpass_)
list(JOIN pc_libs " " pc_libs)
configure_file(cmake/yardpass.pc.in ${CMAKE_CURRENT_BINARY_DIR}/yardpass.pc @ONLY)
install(FILES ${CMAKE_CURRENT_BINARY_DIR}/yardpass.pc DESTINATION ${CMAKE_INSTALL_LIBDIR}/pkgconfig)
if(YARDPASS_BUILD_PROGRAM)
  install(TARGETS yardpass RUNTIME DESTINATION ${CMAKE_INSTALL_BINDIR})
  install(DIRECTORY demo/ DESTINATION ${CMAKE_INSTALL_DATADIR}/yardpass/demo
          FILES_MATCHING PATTERN "*.toml" PATTERN "*.stl" PATTERN "*-lines.obj")
endif()
