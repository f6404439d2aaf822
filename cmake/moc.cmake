# AUTOMOC for a target whose sources come from a GLOB. CMake looks through the files it knows when one of them
# changes, not when there is one more: then what marks its last look is taken away.
function(offshoot_moc target)
    get_target_property(moc Qt6::moc LOCATION)
    configure_file(${PROJECT_SOURCE_DIR}/cmake/moc.in ${PROJECT_BINARY_DIR}/moc @ONLY)
    set_target_properties(${target} PROPERTIES AUTOMOC ON AUTOMOC_EXECUTABLE ${PROJECT_BINARY_DIR}/moc)
    if(NOT "${ARGN}" STREQUAL "${${target}_looked_through}")
        file(REMOVE ${CMAKE_CURRENT_BINARY_DIR}/${target}_autogen/timestamp)
        set(${target}_looked_through "${ARGN}" CACHE INTERNAL "")
    endif()
endfunction()
