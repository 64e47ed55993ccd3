# Installed: headers, one archive per layer, the program with its demo jobs, CMake and pkg-config files.
include(CMakePackageConfigHelpers)

set(core_layers yardpass_geom yardpass_part yardpass_curve yardpass_tool yardpass_contact yardpass_survey yardpass_stock yardpass_plan yardpass_link
    yardpass_post yardpass_verify)
install(TARGETS ${core_layers} yardpass_core EXPORT yardpass_targets ARCHIVE DESTINATION ${CMAKE_INSTALL_LIBDIR})
foreach(layer geom part curve tool contact survey stock plan link post verify)
  install(DIRECTORY include/yardpass/${layer} DESTINATION ${CMAKE_INSTALL_INCLUDEDIR}/yardpass)
endforeach()
if(YARDPASS_WITH_DXF)
  install(TARGETS yardpass_dxf EXPORT yardpass_targets ARCHIVE DESTINATION ${CMAKE_INSTALL_LIBDIR})
  install(DIRECTORY include/yardpass/dxf DESTINATION ${CMAKE_INSTALL_INCLUDEDIR}/yardpass)
endif()
install(FILES include/yardpass/version.h DESTINATION ${CMAKE_INSTALL_INCLUDEDIR}/yardpass)
install(EXPORT yardpass_targets NAMESPACE yardpass:: FILE yardpassTargets.cmake
        DESTINATION ${CMAKE_INSTALL_LIBDIR}/cmake/yardpass)
configure_package_config_file(cmake/yardpassConfig.cmake.in ${CMAKE_CURRENT_BINARY_DIR}/yardpassConfig.cmake
                              INSTALL_DESTINATION ${CMAKE_INSTALL_LIBDIR}/cmake/yardpass)
write_basic_package_version_file(${CMAKE_CURRENT_BINARY_DIR}/yardpassConfigVersion.cmake COMPATIBILITY SameMinorVersion)
install(FILES ${CMAKE_CURRENT_BINARY_DIR}/yardpassConfig.cmake ${CMAKE_CURRENT_BINARY_DIR}/yardpassConfigVersion.cmake
        DESTINATION ${CMAKE_INSTALL_LIBDIR}/cmake/yardpass)
file(RELATIVE_PATH pc_to_prefix /p/${CMAKE_INSTALL_LIBDIR}/pkgconfig /p)  # so that an installed copy can be moved
configure_file(cmake/yardpass.pc.in ${CMAKE_CURRENT_BINARY_DIR}/yardpass.pc @ONLY)
install(FILES ${CMAKE_CURRENT_BINARY_DIR}/yardpass.pc DESTINATION ${CMAKE_INSTALL_LIBDIR}/pkgconfig)
if(YARDPASS_BUILD_PROGRAM)
  install(TARGETS yardpass RUNTIME DESTINATION ${CMAKE_INSTALL_BINDIR})
  install(FILES demo/paddle-blade.toml demo/paddle-blade.stl demo/fairlead-punch.toml demo/fairlead-punch.stl demo/porthole-ring.toml
          demo/porthole-ring.stl demo/porthole-ring-lines.obj DESTINATION ${CMAKE_INSTALL_DATADIR}/yardpass/demo)
  install(FILES demo/machines/slipway-mill.toml DESTINATION ${CMAKE_INSTALL_DATADIR}/yardpass/demo/machines)
endif()
