// A formula taken apart as in a book: what it is over, under and to, and that nothing of its line is lost.
#include "working/formula.hpp"
#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>
#include "plan/plan.hpp"
#include "support/demo.hpp"

namespace hinge {
namespace {

// Presentation markup of MathML 3, chapter 3 (from memory), by hand.
TEST(Formula, isFractionsRootsAndPowers) {
    const auto marked = [](const char* line) {
        auto text = mathMl(parseFormula(line));
        const auto from = text.find('>') + 1;
        return text.substr(from, text.rfind("</math>") - from);
    };
    EXPECT_EQ(marked("Q/t"), "<mrow><mfrac><mi>Q</mi><mi>t</mi></mfrac></mrow>");
    EXPECT_EQ(marked("(a + 2)/(2·g)"),
              "<mrow><mfrac><mrow><mi>a</mi><mspace width=\"0.25em\"/><mo>+</mo><mspace width=\"0.25em\"/><mn>2</mn></mrow>"
              "<mrow><mrow><mn>2</mn><mo>·</mo><mi>g</mi></mrow></mrow></mfrac></mrow>");
    EXPECT_EQ(marked("v²"), "<mrow><msup><mi>v</mi><mn>2</mn></msup></mrow>");
    EXPECT_EQ(marked("10⁻⁵"), "<mrow><msup><mn>10</mn><mn>−5</mn></msup></mrow>");
    EXPECT_EQ(marked("√(A/π)"), "<mrow><msqrt><mrow><mfrac><mi>A</mi><mi>π</mi></mfrac></mrow></msqrt></mrow>");
    EXPECT_EQ(marked("Vd"), "<mrow><msub><mi>V</mi><mi>d</mi></msub></mrow>");
    EXPECT_EQ(marked("Re"), "<mrow><mi>Re</mi></mrow>") << "a number with a name of two letters";
    EXPECT_EQ(marked("e^(−t/τ)"), "<mrow><msup><mi>e</mi><mrow><mo>−</mo><mfrac><mi>t</mi><mi>τ</mi></mfrac></mrow></msup></mrow>");
    EXPECT_EQ(marked("x < y & z"),
              "<mrow><mi>x</mi><mspace width=\"0.25em\"/><mo>&lt;</mo><mspace width=\"0.25em\"/><mi>y</mi>"
              "<mspace width=\"0.25em\"/><mo>&amp;</mo><mspace width=\"0.25em\"/><mi>z</mi></mrow>");
}

// Division binds to the left, as in the line: a/b·c is (a/b)·c, and a·b/c is (a·b)/c.
TEST(Formula, bindsAsItsLineDoes) {
    const auto first = parseFormula("a/b·c").parts.at(0);
    ASSERT_EQ(first.kind, Math::Kind::Row);
    EXPECT_EQ(first.parts.at(0).kind, Math::Kind::Fraction);
    EXPECT_EQ(inLine(first.parts.at(2)), "c");
    const auto second = parseFormula("a·b/c").parts.at(0);
    ASSERT_EQ(second.kind, Math::Kind::Fraction);
    EXPECT_EQ(inLine(second.parts.at(0)), "a·b");
    // A power of ten belongs to its number.
    const auto third = parseFormula("3/1.6·10⁷").parts.at(0);
    ASSERT_EQ(third.kind, Math::Kind::Fraction);
    EXPECT_EQ(inLine(third.parts.at(1)), "1.6·10⁷");
    EXPECT_EQ(parseFormula("clk").parts.at(0).kind, Math::Kind::Word);
    EXPECT_EQ(parseFormula("ton").parts.at(0).kind, Math::Kind::Symbol);
    EXPECT_EQ(parseFormula("1.42·(ΔT/h)^¼").parts.at(0).parts.size(), 3U);
}

TEST(Formula, symbolsHaveTheirIndices) {
    const auto of = [](const char* text) {
        const auto [letter, index] = splitSymbol(text);
        return letter + "_" + index;
    };
    EXPECT_EQ(of("hf"), "h_f");
    EXPECT_EQ(of("ton"), "t_on");
    EXPECT_EQ(of("τc"), "τ_c");
    EXPECT_EQ(of("ΔV"), "ΔV_");
    EXPECT_EQ(of("ESR"), "ESR_");
    EXPECT_EQ(of("I0"), "I_0");
    EXPECT_EQ(of("C′"), "C′_");
}

// Every formula of every example, with symbols and with numbers: read and written again it is the same to the letter.
TEST(Formula, nothingOfALineIsLost) {
    const auto parts = test::shippedParts();
    std::size_t lines = 0, over = 0;
    for (const auto* name :
         {"paper-moon-stage", "proofing-box", "tightrope-rider", "cloud-chamber-door", "greenhouse-kettle", "snail-hour"}) {
        const auto plan = plan::evaluate(test::exampleProject(name), parts);
        for (const auto& working : plan::allWorkings(plan))
            for (const auto& step : working.steps)
                for (const auto& line : {step.symbol + " = " + step.formula, "= " + step.substituted}) {
                    const auto math = parseFormula(line);
                    EXPECT_EQ(inLine(math), line);
                    ++lines;
                    over += mathMl(math).find("<mfrac>") != std::string::npos ? 1 : 0;
                }
    }
    EXPECT_GT(lines, 300U);
    EXPECT_GT(over, lines / 6);
}
// Nor of any other: brackets that are not closed, bytes that are no letters.
RC_GTEST_PROP(Formula, anyLineIsReadAndKept, ()) {
    const auto pieces = *rc::gen::container<std::vector<std::string>>(rc::gen::element<std::string>(
        "a", "Vd", "2", ".", "·", "/", "(", ")", "√", "²", "⁻", "^", "|", "⌊", "⌋", " ", "−", "ln", "mm", "\xff", "<"));
    std::string line;
    for (const auto& piece : pieces) line += piece;
    RC_ASSERT(inLine(parseFormula(line)) == line);
    const auto marked = mathMl(parseFormula(line));
    // Every element is closed by its own name.
    std::vector<std::string> open;
    for (auto at = marked.find('<'); at != std::string::npos; at = marked.find('<', at + 1)) {
        const auto end = marked.find('>', at);
        RC_ASSERT(end != std::string::npos);
        const bool closes = marked[at + 1] == '/';
        const auto name = marked.substr(at + (closes ? 2 : 1), marked.find_first_of(" />", at + 2) - at - (closes ? 2 : 1));
        if (closes) {
            RC_ASSERT(!open.empty());
            RC_ASSERT(open.back() == name);
            open.pop_back();
        } else if (marked[end - 1] != '/') {
            open.push_back(name);
        }
    }
    RC_ASSERT(open.empty());
}

}  // namespace
}  // namespace hinge
