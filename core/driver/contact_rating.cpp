#include "driver/contact_rating.hpp"
#include <fmt/format.h>

namespace hinge::driver {

double usualInrush(ContactLoad load) {
    switch (load) {
        case ContactLoad::Resistive: return 1.0;
        case ContactLoad::Inductive: return 1.0;
        case ContactLoad::Motor: return 6.0;
        case ContactLoad::Lamp: return 10.0;
        case ContactLoad::Capacitive: return 20.0;
    }
    return 1.0;
}

Result<Worked<ContactRatingResult>> contactRating(const ContactRating& in) {
    Worked<ContactRatingResult> out;
    auto& r = out.result;
    const double factor = in.inrush_factor ? si(*in.inrush_factor) : usualInrush(in.load);
    // Breaking a coil's current draws an arc: the contact counts for 0.4 of its resistive rating.
    const double derating = in.load == ContactLoad::Inductive ? 0.4 : 1.0;
    r.inrush_current = of<Current>(si(in.current) * factor);
    r.usable_contact_current = of<Current>(si(in.contact_current) * derating);
    r.load_fraction = of<Ratio>(si(r.inrush_current) / si(r.usable_contact_current));
    const std::string practice = "common practice, no published source";
    addStep(out.steps, "Ii", "current at switch-on", "{I}·{k}", {{"I", in.current}, {"k", factor}}, r.inrush_current, practice);
    addStep(out.steps, "Iu", "what the contact bears", "{Ic}·{d}", {{"Ic", in.contact_current}, {"d", derating}}, r.usable_contact_current,
            practice);
    addStep(out.steps, "x", "share of it", "{Ii}/{Iu}", {{"Ii", r.inrush_current}, {"Iu", r.usable_contact_current}}, r.load_fraction,
            practice);
    const double share = si(r.load_fraction);
    if (share > 1.0 + 1e-12)
        out.findings.push_back({"contact-inrush", Severity::Stop,
                                fmt::format("Switching on draws {}; the contact bears {}. It will weld.", display(r.inrush_current),
                                            display(r.usable_contact_current))});
    else if (share > 0.8 + 1e-12)
        out.findings.push_back({"contact-inrush", Severity::Warn,
                                fmt::format("Switching on draws {} of the {} that the contact bears.", display(r.inrush_current),
                                            display(r.usable_contact_current))});
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr contactRatingForm() {
    using I = ContactRating;
    using R = ContactRatingResult;
    auto form = std::make_shared<FormOf<I, R>>("contact-rating", "match", "a relay's contact against the load it switches",
                                               "common practice, no published source", &contactRating);
    form->rule("inrush = current·factor (1, 1, 6, 10, 20 by load); load_fraction = inrush/usable contact current (0.4 for coils)")
        .in("load", &I::load, nullptr, "kind of load")
        .in("current", &I::current, nullptr, "running")
        .in("contact_current", &I::contact_current, nullptr, "resistive rating of the contact")
        .in("inrush_factor", &I::inrush_factor, nullptr, "current at switch-on over running")
        .between(1.0, std::numeric_limits<double>::infinity())
        .otherwise("by load: 1, 1, 6, 10, 20")
        .out("inrush_current", &R::inrush_current, "at switch-on")
        .out("load_fraction", &R::load_fraction, "of the usable contact current")
        .out("usable_contact_current", &R::usable_contact_current, "derated for coils")
        .resolve([](I& in) {
            if (!in.inrush_factor) in.inrush_factor = of<Ratio>(usualInrush(in.load));
        });
    return form;
}

}  // namespace hinge::driver
