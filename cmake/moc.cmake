# AUTOMOC for a target whose sources come from a GLOB. CMake looks through the files it knows when one of them
# changes, not when there is one more: then what marks its last look is taken away.
function(offshoot_moc target)
    set_target_properties(${target} PROPERTIES AUTOMOC ON)
    if(NOT "${ARGN}" STREQUAL "${${target}_looked_through}")
        file(REMOVE ${CMAKE_CURRENT_BINARY_DIR}/${target}_autogen/timestamp)
        set(${target}_looked_through "${ARGN}" CACHE INTERNAL "")
    endif()
endfunction()
