# A layer of the core is a folder of src/core with a library of its own. It sees itself and the layers it
# names, and nothing else: its headers are reached through a folder that holds a link to this layer alone, so
# an include from above does not build. READ says what of the layers below is compiled once for all its sources:
# the model is most of what they would read.
function(offshoot_layer name)
    cmake_parse_arguments(PARSE_ARGV 1 arg "" "" "SEES;READ")
    set(view ${PROJECT_BINARY_DIR}/layers/${name})
    file(MAKE_DIRECTORY ${view}/core)
    file(CREATE_LINK ${PROJECT_SOURCE_DIR}/src/core/${name} ${view}/core/${name} SYMBOLIC)
    file(GLOB_RECURSE sources CONFIGURE_DEPENDS ${PROJECT_SOURCE_DIR}/src/core/${name}/*.cpp)
    file(GLOB_RECURSE headers FOLLOW_SYMLINKS CONFIGURE_DEPENDS ${view}/core/${name}/*.h)
    add_library(offshoot_${name} STATIC ${sources})
    target_sources(offshoot_${name} PUBLIC FILE_SET HEADERS BASE_DIRS ${view} FILES ${headers})
    set(below ${arg_SEES})
    list(TRANSFORM below PREPEND offshoot_)
    target_link_libraries(offshoot_${name} PUBLIC ${below} nlohmann_json::nlohmann_json
        Eigen3::Eigen PRIVATE offshoot_warnings offshoot_searched)
    set(read ${arg_READ})
    list(TRANSFORM read REPLACE "(.+)" "<core/\\1>")
    target_precompile_headers(offshoot_${name} PRIVATE <nlohmann/json.hpp> ${read})

    # Every header by itself: each the one line of a source. What comes from elsewhere is read once.
    set(alone)
    foreach(header ${headers})
        cmake_path(RELATIVE_PATH header BASE_DIRECTORY ${view} OUTPUT_VARIABLE line)
        set(source ${PROJECT_BINARY_DIR}/alone/${line}.cpp)
        file(CONFIGURE OUTPUT ${source} CONTENT "#include \"${line}\"\n")
        list(APPEND alone ${source})
    endforeach()
    add_library(offshoot_${name}_headers OBJECT EXCLUDE_FROM_ALL ${alone})
    target_link_libraries(offshoot_${name}_headers PRIVATE offshoot_${name} offshoot_warnings)
    if(TARGET offshoot_headers)
        target_precompile_headers(offshoot_${name}_headers REUSE_FROM offshoot_values_headers)
    else()
        add_custom_target(offshoot_headers)
        target_precompile_headers(offshoot_${name}_headers PRIVATE <nlohmann/json.hpp>)
    endif()
    add_dependencies(offshoot_headers offshoot_${name}_headers)
endfunction()
