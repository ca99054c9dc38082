# Turns a text file into a header with one string_view: cmake -DIN=… -DOUT=… -DNAME=… -DSPACE=… -P embed.cmake
file(READ ${IN} text)
file(WRITE ${OUT} "#pragma once\n#include <string_view>\nnamespace ${SPACE} {\ninline constexpr std::string_view ${NAME} = R\"~~~(${text})~~~\";\n}\n")
