# One helper for a field of the core, one for a test. A field links only what its DEPENDS name;
# tests/architecture checks that the includes say the same.

add_library(hinge_warnings INTERFACE)
target_compile_options(hinge_warnings INTERFACE -Wall -Wextra -Wpedantic -Wconversion -Wno-sign-conversion
                       $<$<CXX_COMPILER_ID:GNU>:-Wshadow=local> -Wnon-virtual-dtor -Woverloaded-virtual -Wno-missing-field-initializers
                       $<$<CXX_COMPILER_ID:GNU>:-Wno-array-bounds> $<$<CXX_COMPILER_ID:GNU>:-Wno-stringop-overflow> -Werror)  # GCC 12 sees a string of its own overrun (its PR 105651)

# One precompiled header for the core and the command line, one for the tests.
if(HINGE_PCH)
  add_compile_options($<$<CXX_COMPILER_ID:GNU>:-fpch-preprocess>)
endif()
function(hinge_precompile target kind)
  if(NOT HINGE_PCH)
    return()
  endif()
  if(kind STREQUAL core)
    target_precompile_headers(${target} PRIVATE <algorithm> <array> <cmath> <fmt/format.h> <functional> <map> <memory> <optional> <string>
                              <tl/expected.hpp> <variant> <vector> ${PROJECT_SOURCE_DIR}/core/quantity/dimensions.hpp)
  else()
    target_precompile_headers(${target} PRIVATE <algorithm> <cmath> <filesystem> <fmt/format.h> <functional> <gmock/gmock.h> <gtest/gtest.h> <map> <optional> <random> <rapidcheck.h> <regex> <string>
                              <tl/expected.hpp> <variant> <vector> ${PROJECT_SOURCE_DIR}/core/quantity/dimensions.hpp)
  endif()
endfunction()

# hinge_add_field(demand DEPENDS quantity working [LINK libs…])
function(hinge_add_field name)
  cmake_parse_arguments(FIELD "" "" "DEPENDS;LINK" ${ARGN})
  file(GLOB sources CONFIGURE_DEPENDS ${CMAKE_CURRENT_SOURCE_DIR}/${name}/*.cpp)
  add_library(hinge_${name} STATIC ${sources})
  target_include_directories(hinge_${name} PUBLIC ${PROJECT_SOURCE_DIR}/core)
  foreach(dependency ${FIELD_DEPENDS})
    target_link_libraries(hinge_${name} PUBLIC hinge_${dependency})
  endforeach()
  target_link_libraries(hinge_${name} PUBLIC ${FIELD_LINK} PRIVATE hinge_warnings)
  if(name STREQUAL quantity)
    hinge_precompile(hinge_quantity core)
  elseif(HINGE_PCH)
    target_precompile_headers(hinge_${name} REUSE_FROM hinge_quantity)
  endif()
endfunction()

# hinge_add_test(core_demand SOURCES a.cpp b.cpp LINK hinge_demand [SERIAL] [TIMEOUT s] [ENVIRONMENT …])
function(hinge_add_test name)
  cmake_parse_arguments(TEST "SERIAL" "TIMEOUT" "SOURCES;LINK;ENVIRONMENT" ${ARGN})
  add_executable(test_${name} ${TEST_SOURCES})
  target_link_libraries(test_${name} PRIVATE ${TEST_LINK} GTest::gtest GTest::gmock GTest::gtest_main hinge_warnings)
  target_include_directories(test_${name} PRIVATE ${PROJECT_SOURCE_DIR}/tests)
  # Tests are built fast rather than to run fast; the test library's macros shadow and dangle.
  target_compile_options(test_${name} PRIVATE $<$<CONFIG:Release>:-O0> -Wno-shadow -Wno-dangling-else)
  target_compile_definitions(test_${name} PRIVATE HINGE_SOURCE_DIR="${PROJECT_SOURCE_DIR}"
                             HINGE_BINARY_DIR="${PROJECT_BINARY_DIR}")
  if(name STREQUAL core_quantity)
    hinge_precompile(test_${name} tests)
  elseif(HINGE_PCH)
    target_precompile_headers(test_${name} REUSE_FROM test_core_quantity)
  endif()
  add_test(NAME ${name} COMMAND test_${name})
  if(NOT TEST_TIMEOUT)
    set(TEST_TIMEOUT 300)
  endif()
  set_tests_properties(${name} PROPERTIES TIMEOUT ${TEST_TIMEOUT})
  if(TEST_SERIAL)
    set_tests_properties(${name} PROPERTIES RUN_SERIAL TRUE)
  endif()
  if(TEST_ENVIRONMENT)
    set_tests_properties(${name} PROPERTIES ENVIRONMENT "${TEST_ENVIRONMENT}")
  endif()
endfunction()

# hinge_embed(hinge_firmware firmware/sketch.mustache firmware/sketch_template.hpp sketch_template hinge::firmware)
function(hinge_embed target in out name space)
  set(target_file ${CMAKE_CURRENT_BINARY_DIR}/embedded/${out})
  add_custom_command(OUTPUT ${target_file}
    COMMAND ${CMAKE_COMMAND} -DIN=${CMAKE_CURRENT_SOURCE_DIR}/${in} -DOUT=${target_file} -DNAME=${name} -DSPACE=${space} -P ${PROJECT_SOURCE_DIR}/cmake/embed.cmake
    DEPENDS ${CMAKE_CURRENT_SOURCE_DIR}/${in} ${PROJECT_SOURCE_DIR}/cmake/embed.cmake VERBATIM)
  target_sources(${target} PRIVATE ${target_file})
  target_include_directories(${target} PRIVATE ${CMAKE_CURRENT_BINARY_DIR}/embedded)
endfunction()
