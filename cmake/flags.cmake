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

# What the fuzzers search counts its branches. What reckons in loops pays by being optimised there; what plans
# and judges is built in half the time as it is.
add_library(offshoot_searched INTERFACE)
add_library(offshoot_loops INTERFACE)
if(OFFSHOOT_FUZZ)
    target_compile_options(offshoot_searched INTERFACE -fsanitize=fuzzer-no-link)
    target_compile_options(offshoot_loops INTERFACE -O1)
endif()

add_library(offshoot_qt_flags INTERFACE)
target_link_libraries(offshoot_qt_flags INTERFACE offshoot_flags)
target_compile_definitions(offshoot_qt_flags INTERFACE QT_NO_CAST_FROM_ASCII QT_NO_KEYWORDS)
