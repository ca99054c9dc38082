#pragma once
// Reference programs from Debian, run on the same problem.
#include <gtest/gtest.h>
#include <fstream>
#include <map>
#include <regex>
#include <sstream>
#include <vector>
#include "support/folder.hpp"
#include "support/program.hpp"

namespace hinge::test {

/// Tests that ask SciPy.
class WithScipy : public testing::Test {
protected:
    void SetUp() override {
        if (run("/usr/bin/python3 -c 'import scipy' 2> /dev/null").status != 0)
            GTEST_SKIP() << "python3-scipy is not installed: ./check installs it";
    }
};

/// Runs a Python script and gives the numbers that it prints.
inline std::vector<double> numbers(const std::string& script) {
    TemporaryFolder folder;
    const auto file = folder.path() / "oracle.py";
    std::ofstream(file) << script;
    const auto outcome = run("/usr/bin/python3 " + file.string());
    EXPECT_EQ(outcome.status, 0);
    std::istringstream text(outcome.out);
    std::vector<double> list;
    for (double v = 0.0; text >> v;) list.push_back(v);
    return list;
}

/// Runs an ngspice deck in batch mode and gives its .meas results by name.
inline std::map<std::string, double> ngspice(const std::string& deck) {
    TemporaryFolder folder;
    const auto file = folder.path() / "deck.cir";
    std::ofstream(file) << deck;
    const auto outcome = run("ngspice -b " + file.string() + " 2>&1");
    std::map<std::string, double> results;
    const std::regex line(R"(^(\w+)\s*=\s*([-+0-9.eE]+))");
    std::istringstream text(outcome.out);
    std::string row;
    std::smatch match;
    while (std::getline(text, row))
        if (std::regex_search(row, match, line)) results[match[1]] = std::stod(match[2]);
    return results;
}

}  // namespace hinge::test
