#pragma once
// A formula as it stands in a line, taken apart as in a book: fractions, roots, powers, what is between brackets.
#include <string>
#include <string_view>
#include <vector>

namespace hinge {

struct Math {
    enum class Kind {
        Row,       ///< one part after another
        Word,      ///< an operator, a blank, a unit or a plain word, upright
        Symbol,    ///< letters that stand for a figure: see splitSymbol
        Number,    ///< digits
        Fraction,  ///< parts[0] over parts[1]
        Root,      ///< of parts[0]
        Power,     ///< parts[0] to parts[1]; `text` is how the line writes that: "²", "^"
        Fence      ///< parts[0] between `text`, an opening bracket, and what closes it
    };
    Kind kind = Kind::Row;
    std::string text;
    std::vector<Math> parts;
};

/// Every line can be read: what it does not understand stays as words.
[[nodiscard]] Math parseFormula(std::string_view line);
/// The line that it was read from, to the letter.
[[nodiscard]] std::string inLine(const Math& math);
/// The same without brackets that a fraction's bar or a root's roof makes needless.
[[nodiscard]] const Math& bare(const Math& math);
/// The letter of a symbol and its index: "Vd" is V with d, "ton" is t with on; words and capitals have none ("Re", "ESR").
struct Symbol {
    std::string letter, index;
};
[[nodiscard]] Symbol splitSymbol(std::string_view text);
/// What closes a bracket: ")" of "(".
[[nodiscard]] std::string_view closing(std::string_view opening);

/// Presentation MathML 3, one `math` element, with every letter made safe; its label is the line. @source mathml-3
[[nodiscard]] std::string mathMl(const Math& math);

}  // namespace hinge
