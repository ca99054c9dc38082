# One helper for a field of the core, one for a test. A field links only what its DEPENDS name;
# tests/architecture checks that the includes say the same.

add_library(hinge_warnings INTERFACE)
target_compile_options(hinge_warnings INTERFACE -Wall -Wextra -Wpedantic -Wconversion -Wno-sign-conversion
                       $<$<CXX_COMPILER_ID:GNU>:-Wshadow=local> -Wnon-virtual-dtor -Woverloaded-virtual -Wno-missing-field-initializers
                       $<$<CXX_COMPILER_ID:GNU>:-Wno-array-bounds> $<$<CXX_COMPILER_ID:GNU>:-Wno-stringop-overflow> -Werror)  # GCC 12 sees a string of its own overrun (its PR 105651)

# One precompiled header for the core and the command line, one for the window. Tests have none: so a missing include shows in ./check.
if(HINGE_PCH)
  add_compile_options($<$<CXX_COMPILER_ID:GNU>:-fpch-preprocess>)
endif()
set(HINGE_PRECOMPILED <algorithm> <array> <cmath> <filesystem> <fmt/format.h> <functional> <map> <memory> <optional> <string> <tl/expected.hpp>
    <variant> <vector> ${PROJECT_SOURCE_DIR}/core/quantity/dimensions.hpp ${PROJECT_SOURCE_DIR}/core/project/project.hpp)
set(HINGE_PRECOMPILED_APP ${HINGE_PRECOMPILED} <QApplication> <QBoxLayout> <QCheckBox> <QComboBox> <QDateTime> <QFileDialog> <QLabel> <QLineEdit> <QMenu>
    <QPainter> <QPushButton> <QScrollArea> <QTextBrowser> <QTimer> ${PROJECT_SOURCE_DIR}/core/plan/plan.hpp)

# Several sources as one, so that what they include is read once. The other presets build file by file, as written.
function(hinge_build_fast target batch)
  if(HINGE_UNITY)
    set_target_properties(${target} PROPERTIES UNITY_BUILD ON UNITY_BUILD_BATCH_SIZE ${batch})
  endif()
endfunction()
# How much is optimised where HINGE_UNITY builds fast. Two thirds of the compiler's time go into optimising (docs/performance.md); tests
# work through all of it for minutes, the demo (HINGE_QUICK) does once a click what they do a thousand times. The benchmarks are built as
# released.
#            tests   demo
#   HOT      -O2     -O1    what integrates and solves; the default
#   LOOPS    -O1     -O1    what is asked a million times: the routine's tick, and what everything is made of
#   WARM     -O1     -O0    what is asked at every key press
#   COLD     -O1     -O0    what is asked once a click
function(hinge_optimise target level)
  if(NOT HINGE_UNITY OR HINGE_BENCHMARKS OR (level STREQUAL HOT AND NOT HINGE_QUICK))
    return()
  endif()
  if(HINGE_QUICK AND level MATCHES "WARM|COLD")
    target_compile_options(${target} PRIVATE $<$<CONFIG:Release>:-O0>)
  else()
    # At -O1 GCC 12 warns of optional values that it can no longer follow. Clang spends most of its time on what it has inlined.
    target_compile_options(${target} PRIVATE $<$<CONFIG:Release>:-O1> $<$<CXX_COMPILER_ID:GNU>:-Wno-maybe-uninitialized>
                           $<$<CXX_COMPILER_ID:Clang>:SHELL:-mllvm -inline-threshold=20>)
  endif()
endfunction()
# A header that was precompiled with optimisation serves only what is optimised: one for each.
function(hinge_precompile target level)
  if(NOT HINGE_PCH)
    return()
  endif()
  if(target STREQUAL hinge_quantity OR (target STREQUAL hinge_files AND HINGE_QUICK))
    target_precompile_headers(${target} PRIVATE ${HINGE_PRECOMPILED})
  elseif(HINGE_QUICK AND level MATCHES "WARM|COLD")
    target_precompile_headers(${target} REUSE_FROM hinge_files)
  else()
    target_precompile_headers(${target} REUSE_FROM hinge_quantity)
  endif()
endfunction()

# hinge_add_field(demand DEPENDS quantity working [FOLDERS inner…] [LINK libs…] [COLD | WARM | LOOPS] [BATCH n])
function(hinge_add_field name)
  cmake_parse_arguments(FIELD "COLD;WARM;LOOPS" "BATCH" "DEPENDS;LINK;FOLDERS" ${ARGN})
  file(GLOB sources CONFIGURE_DEPENDS ${CMAKE_CURRENT_SOURCE_DIR}/${name}/*.cpp)
  foreach(folder ${FIELD_FOLDERS})
    file(GLOB inner CONFIGURE_DEPENDS ${CMAKE_CURRENT_SOURCE_DIR}/${name}/${folder}/*.cpp)
    list(APPEND sources ${inner})
  endforeach()
  add_library(hinge_${name} STATIC ${sources})
  target_include_directories(hinge_${name} PUBLIC ${PROJECT_SOURCE_DIR}/core)
  foreach(dependency ${FIELD_DEPENDS})
    target_link_libraries(hinge_${name} PUBLIC hinge_${dependency})
  endforeach()
  target_link_libraries(hinge_${name} PUBLIC ${FIELD_LINK} PRIVATE hinge_warnings)
  if(NOT FIELD_BATCH)
    set(FIELD_BATCH 8)
  endif()
  hinge_build_fast(hinge_${name} ${FIELD_BATCH})
  set(level HOT)
  if(FIELD_COLD)
    set(level COLD)
  elseif(FIELD_WARM)
    set(level WARM)
  elseif(FIELD_LOOPS)
    set(level LOOPS)
  endif()
  hinge_optimise(hinge_${name} ${level})
  hinge_precompile(hinge_${name} ${level})
endfunction()

# A function of a template that both a test and the core need is in the program once: the linker keeps the first that it meets, and a
# test's is not optimised. What the core has comes first, so that a test runs what is released.
function(hinge_core_first target)
  set(first)
  foreach(library IN LISTS ARGN)
    if(TARGET ${library} AND library MATCHES "^hinge_")
      list(APPEND first $<TARGET_FILE:${library}>)
    endif()
  endforeach()
  if("hinge_plan" IN_LIST ARGN OR "hinge_simulation" IN_LIST ARGN OR "hinge_emulator" IN_LIST ARGN)
    list(APPEND first $<TARGET_FILE:hinge_firmware> $<TARGET_FILE:hinge_match> $<TARGET_FILE:hinge_project> $<TARGET_FILE:hinge_quantity>)
  endif()
  list(REMOVE_DUPLICATES first)
  list(JOIN first " " first)
  target_link_options(${target} PRIVATE "SHELL:-Wl,--whole-archive ${first} -Wl,--no-whole-archive")
endfunction()

# hinge_add_test(core SOURCES a.cpp b.cpp LINK hinge_demand [SHARES n] [BATCH n] [SERIAL] [TIMEOUT s] [COST n] [ENVIRONMENT …])
# A program of tests, without precompiled headers; in SHARES it is run as so many tests, each a part of its cases.
function(hinge_add_test name)
  cmake_parse_arguments(TEST "SERIAL" "TIMEOUT;SHARES;BATCH;COST" "SOURCES;LINK;ENVIRONMENT" ${ARGN})
  add_executable(test_${name} ${TEST_SOURCES})
  target_link_libraries(test_${name} PRIVATE ${TEST_LINK} GTest::gtest GTest::gmock GTest::gtest_main hinge_warnings)
  target_include_directories(test_${name} PRIVATE ${PROJECT_SOURCE_DIR}/tests)
  # Tests are built fast rather than to run fast; the test library's macros shadow and dangle.
  target_compile_options(test_${name} PRIVATE $<$<CONFIG:Release>:-O0> -Wno-shadow -Wno-dangling-else)
  target_compile_definitions(test_${name} PRIVATE HINGE_SOURCE_DIR="${PROJECT_SOURCE_DIR}"
                             HINGE_BINARY_DIR="${PROJECT_BINARY_DIR}")
  hinge_core_first(test_${name} ${TEST_LINK})
  if(NOT TEST_BATCH)
    set(TEST_BATCH 4)
  endif()
  hinge_build_fast(test_${name} ${TEST_BATCH})
  if(NOT TEST_TIMEOUT)
    set(TEST_TIMEOUT 300)
  endif()
  set(names ${name})
  if(TEST_SHARES)
    set(names)
    foreach(share RANGE 1 ${TEST_SHARES})
      list(APPEND names ${name}_${share})
    endforeach()
  endif()
  set(share 0)
  foreach(test IN LISTS names)
    add_test(NAME ${test} COMMAND test_${name})
    set(environment ${TEST_ENVIRONMENT})
    if(TEST_SHARES)
      list(APPEND environment GTEST_TOTAL_SHARDS=${TEST_SHARES} GTEST_SHARD_INDEX=${share})
      math(EXPR share "${share} + 1")
    endif()
    set_tests_properties(${test} PROPERTIES TIMEOUT ${TEST_TIMEOUT} ENVIRONMENT "${environment}")
    if(TEST_SERIAL)
      set_tests_properties(${test} PROPERTIES RUN_SERIAL TRUE)
    endif()
    if(TEST_COST)
      set_tests_properties(${test} PROPERTIES COST ${TEST_COST})
    endif()
  endforeach()
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

# hinge_embed_all(hinge_board board/all_forms.hpp all_forms hinge::board a.json b.json …): all of a folder as one array
function(hinge_embed_all target out name space)
  set(target_file ${CMAKE_CURRENT_BINARY_DIR}/embedded/${out})
  string(REPLACE ";" "," listed "${ARGN}")
  add_custom_command(OUTPUT ${target_file}
    COMMAND ${CMAKE_COMMAND} -DIN=${listed} -DALL=1 -DOUT=${target_file} -DNAME=${name} -DSPACE=${space} -P ${PROJECT_SOURCE_DIR}/cmake/embed.cmake
    DEPENDS ${ARGN} ${PROJECT_SOURCE_DIR}/cmake/embed.cmake VERBATIM)
  target_sources(${target} PRIVATE ${target_file})
  target_include_directories(${target} PRIVATE ${CMAKE_CURRENT_BINARY_DIR}/embedded)
endfunction()
