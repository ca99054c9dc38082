#pragma once
#include <QRectF>
#include <QString>
#include <vector>
#include "plan/wiring.hpp"

namespace hinge::app {

/// A sheet of self-adhesive labels on A4, by its count; lengths in mm. The block of labels stands in the middle of the page.
/// @source common practice, no published source
struct LabelSheet {
    const char* name;  ///< "65 of 38.1 × 21.2 mm"
    int columns, rows;
    double wide, high;
    double apart;  ///< between two columns
    [[nodiscard]] int count() const { return columns * rows; }
    /// Where its nth label lies on the page.
    [[nodiscard]] QRectF place(int n) const;
};
[[nodiscard]] const std::vector<LabelSheet>& labelSheets();

/// A label for either end of each wire: its number large, and where that end goes.
/// @return pages printed
/// @error NotWritable
[[nodiscard]] Result<int> printLabels(const std::vector<plan::WireRow>& rows, const LabelSheet& sheet, const QString& path);

}  // namespace hinge::app
