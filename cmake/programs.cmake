# A program that is installed: it knows its version, and its manual page is made from its own --help.
find_program(help2man help2man)
function(offshoot_program name summary)
    target_compile_definitions(${name} PRIVATE OFFSHOOT_VERSION="${PROJECT_VERSION}")
    install(TARGETS ${name})
    if(NOT help2man)
        return()
    endif()
    set(page ${CMAKE_CURRENT_BINARY_DIR}/${name}.1)
    add_custom_command(OUTPUT ${page}.gz
        COMMAND ${CMAKE_COMMAND} -E env ASAN_OPTIONS=detect_leaks=0 ${help2man} --no-info --name=${summary}
                --output=${page} $<TARGET_FILE:${name}>
        COMMAND gzip -9nf ${page}
        DEPENDS ${name} VERBATIM)
    add_custom_target(${name}-page ALL DEPENDS ${page}.gz)
    install(FILES ${page}.gz DESTINATION ${CMAKE_INSTALL_MANDIR}/man1)
endfunction()
