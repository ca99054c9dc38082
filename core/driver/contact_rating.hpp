#pragma once
#include <array>
#include "working/form.hpp"

namespace hinge::driver {

enum class ContactLoad { Resistive, Inductive, Motor, Lamp, Capacitive };

/// A relay's contact against the load it switches.
struct ContactRating {
    ContactLoad load = ContactLoad::Resistive;
    Current current{};
    Current contact_current{};
    std::optional<Ratio> inrush_factor;  ///< by the load's kind unless given; at least 1
};
struct ContactRatingResult {
    Current inrush_current{};
    Ratio load_fraction{};
    Current usable_contact_current{};
};
/// How a small relay's contact follows its coil [s]. @source common practice, no published source
struct ContactTimes {
    double pulls_in = 0.008, bounces = 0.002, lets_go = 0.004;
};
/// The usual inrush of a load's kind, in multiples of its running current.
/// @source common practice, no published source
[[nodiscard]] double usualInrush(ContactLoad load);
/// Holds to 0.8 of the usable contact current, tight to 1, else breaks (`contact-inrush`).
/// @source common practice, no published source
[[nodiscard]] Result<Worked<ContactRatingResult>> contactRating(const ContactRating& in);
[[nodiscard]] FormPtr contactRatingForm();

}  // namespace hinge::driver

template <>
struct hinge::Names<hinge::driver::ContactLoad> {
    using L = hinge::driver::ContactLoad;
    static constexpr std::array all{hinge::Name<L>{L::Resistive, "resistive", "resistive"},
                                    hinge::Name<L>{L::Inductive, "inductive", "coil"}, hinge::Name<L>{L::Motor, "motor", "motor"},
                                    hinge::Name<L>{L::Lamp, "lamp", "lamp"}, hinge::Name<L>{L::Capacitive, "capacitive", "capacitive"}};
};
