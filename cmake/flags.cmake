# Where OFFSHOOT_TOGETHER is set, so many of the target's files are compiled at a time, but for those that say of
# themselves what others say too: a kind of change its steps and rows, a file of functions its tr(); and those
# that use the words of a list as their own.
function(offshoot_together target files)
    set_target_properties(${target} PROPERTIES UNITY_BUILD ${OFFSHOOT_TOGETHER} UNITY_BUILD_BATCH_SIZE ${files})
    get_target_property(sources ${target} SOURCES)
    list(FILTER sources INCLUDE REGEX "\\.cpp$")
    foreach(source ${sources})
        file(STRINGS ${source} own REGEX "^(QString tr\\(|using enum )" LIMIT_COUNT 1)
        if(own OR source MATCHES "_kind\\.cpp$")
            set_source_files_properties(${source} PROPERTIES SKIP_UNITY_BUILD_INCLUSION ON)
        endif()
    endforeach()
endfunction()

# The INTERFACE targets every other target links: compiler habits; with all of src in sight; and Qt's stricter
# defines.
add_library(offshoot_warnings INTERFACE)
add_library(offshoot_flags INTERFACE)
target_link_libraries(offshoot_flags INTERFACE offshoot_warnings)
target_include_directories(offshoot_flags INTERFACE ${PROJECT_SOURCE_DIR}/src)
target_compile_options(offshoot_warnings INTERFACE
    -Wall -Wextra -Wpedantic -Wshadow -Wconversion -Wsign-conversion -Wdouble-promotion
    -Wold-style-cast -Wnon-virtual-dtor -Werror=switch)
if(CMAKE_CXX_COMPILER_ID STREQUAL "GNU")
    # -Wrestrict, -Wstringop-*, -Warray-bounds, -Wmaybe-uninitialized: false alarms of GCC 12 on strings and on
    # nested aggregates.
    target_compile_options(offshoot_warnings INTERFACE -Werror=missing-field-initializers -Wunused-const-variable=1
        -Wno-restrict -Wno-stringop-overflow -Wno-stringop-overread -Wno-array-bounds -Wno-maybe-uninitialized)
endif()

# What the fuzzers search counts its branches, but does not trace its comparisons: that is a quarter of what it takes
# to compile, and what long searches found by it is kept (tests/fuzz/found). The core is optimised for the tests: a
# fresh check takes as long without it, the one after a change of a file does not. Two of its layers simulate, search
# and read, and are worth more of it.
add_library(offshoot_searched INTERFACE)
add_library(offshoot_searched_often INTERFACE)
if(OFFSHOOT_FUZZ)
    set(branches -fsanitize-coverage=inline-8bit-counters,pc-table)
    target_compile_options(offshoot_searched INTERFACE ${branches} -O1)
    target_compile_options(offshoot_searched_often INTERFACE ${branches} -O2)
endif()

add_library(offshoot_qt_flags INTERFACE)
target_link_libraries(offshoot_qt_flags INTERFACE offshoot_flags)
target_compile_definitions(offshoot_qt_flags INTERFACE QT_NO_CAST_FROM_ASCII QT_NO_KEYWORDS)
