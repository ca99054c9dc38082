#include "kinds/words.hpp"

namespace hinge::kinds {

Expected expect(std::string field, std::string what, std::string how, Kind kind, double value, double below, double above,
                std::string reason) {
    return {std::move(field),      std::move(what),       std::move(how),   kind, value,
            value * (1.0 - below), value * (1.0 + above), std::move(reason)};
}

Expected windingReading(double ohms, double below, double above) {
    return expect("resistance", "its winding, cold", "ohmmeter, less what its leads show", Kind::Resistance, ohms, below, above,
                  "from the data sheet");
}

Wire through(std::string from, std::string to, Resistance ohms, const std::string& after) {
    return {std::move(from), std::move(to), "through " + displayPlain(ohms) + after, false, ohms};
}

}  // namespace hinge::kinds
