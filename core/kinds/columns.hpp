#pragma once
// The figures of a kind of part as its catalogue's columns.
#include <optional>
#include <string>
#include <utility>
#include <vector>
#include "driver/driver_part.hpp"
#include "working/member.hpp"

namespace hinge::kinds {

/// One column: its title and which member of the part its cells are.
struct Column {
    std::string name;
    bool required = false;
    Member member;
    std::size_t offset = 0;  ///< bytes from the part's own struct
};

/// What every part has, then what its kind has: `figuresOf<actuator::Fan>().column("curve", &P::curve, true)…list()`.
template <class Part>
class ColumnsOf {
public:
    ColumnsOf() {
        column("id", &Part::id, true)
            .column("name", &Part::name, true)
            .column("mass", &Part::mass)
            .column("noise", &Part::noise)
            .column("price", &Part::price)
            .column("standing", &Part::standing)
            .column("drawer", &Part::drawer);
    }
    /// `Base` is the part itself or what it inherits.
    template <class M, class Base>
    ColumnsOf& column(const char* name, M Base::*member, bool required = false) {
        columns_.push_back({name, required, memberOf<M>(), offsetIn<Part>(member)});
        return *this;
    }
    [[nodiscard]] std::vector<Column> list() const { return columns_; }

private:
    std::vector<Column> columns_;
};

/// A part of that struct without figures.
template <class Part>
[[nodiscard]] actuator::Part blankOf() {
    return Part{};
}

/// Figures that cannot be: the column, and why.
using Impossible = std::optional<std::pair<std::string, std::string>>;

/// The columns of drivers, which are all in one file.
[[nodiscard]] const std::vector<Column>& driverColumns();
[[nodiscard]] Impossible impossible(const driver::DriverPart& driver);

}  // namespace hinge::kinds
