// Rows that check a working against something outside itself, and the two ways a row is judged.
#pragma once
#include <gtest/gtest.h>
#include <cmath>
#include <optional>
#include <string>
#include "plan/workings.hpp"

namespace hinge::test {

struct Case {
    const char* name;
    const char* work;
    const char* inputs;  // separated by ';'
    const char* output;
    double expected;
    double tolerance;  // relative
    Verdict verdict;
    const char* oracle;  // the source; empty: these inputs must be refused
};

struct Refusal {
    const char* work;
    const char* inputs;
    const char* field;  // the input the refusal must name
};

inline Given split(const std::string& line) {
    Given given;
    std::size_t at = 0;
    while (at < line.size()) {
        auto end = line.find(';', at);
        if (end == std::string::npos) end = line.size();
        const std::string item = line.substr(at, end - at);
        const auto equals = item.find('=');
        given.emplace_back(item.substr(0, equals), item.substr(equals + 1));
        at = end + 1;
    }
    return given;
}

/// One result as a number; truth counts as 1 and 0, anything else as nothing.
inline std::optional<double> result(const Answer& answer, const std::string& name) {
    for (const auto& r : answer.results)
        if (r.name == name) {
            if (const auto* number = std::get_if<double>(&r.value)) return *number;
            if (const auto* truth = std::get_if<bool>(&r.value)) return *truth ? 1.0 : 0.0;
        }
    return std::nullopt;
}

inline void expectCase(const Case& c) {
    const auto form = plan::findWorking(c.work);
    ASSERT_TRUE(form) << c.work;
    const auto answer = form->answer(split(c.inputs));
    if (std::string{c.oracle}.empty()) {
        EXPECT_FALSE(answer) << c.inputs << " must be refused";
        return;
    }
    ASSERT_TRUE(answer) << sentence(answer.error());
    const auto value = result(*answer, c.output);
    ASSERT_TRUE(value) << c.output << " is null";
    EXPECT_NEAR(*value, c.expected, std::abs(c.expected) * c.tolerance + 1e-15) << c.oracle;
    EXPECT_EQ(answer->verdict, c.verdict) << c.oracle;
}

inline void expectRefusal(const Refusal& r) {
    const auto form = plan::findWorking(r.work);
    ASSERT_TRUE(form) << r.work;
    const auto answer = form->answer(split(r.inputs));
    ASSERT_FALSE(answer) << r.work << " accepted " << r.inputs;
    EXPECT_EQ(answer.error().field, r.field) << r.work << " " << r.inputs;
    EXPECT_FALSE(sentence(answer.error()).empty());
}

}  // namespace hinge::test
