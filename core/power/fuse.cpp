#include "power/fuse.hpp"
#include <fmt/format.h>
#include <array>
#include "quantity/series.hpp"

namespace hinge::power {

std::span<const double> fuseRatings() {
    static constexpr std::array list{0.1,  0.125, 0.16, 0.2, 0.25, 0.315, 0.4, 0.5, 0.63, 0.8, 1.0,
                                     1.25, 1.6,   2.0,  2.5, 3.15, 4.0,   5.0, 6.3, 8.0,  10.0};
    return list;
}

std::span<const double> fittedRatings() {
    static constexpr std::array list{0.1, 0.125, 0.16, 0.2, 0.25, 0.315, 0.4, 0.5,  0.63, 0.8,  1.0,  1.25, 1.6,
                                     2.0, 2.5,   3.15, 4.0, 5.0,  6.3,   8.0, 10.0, 15.0, 20.0, 25.0, 30.0};
    return list;
}

FuseLimits fuseLimits(Current rating) {
    const double amps = si(rating);
    if (amps > 10.0) return {of<Current>(1.1 * amps), of<Current>(1.35 * amps), true};
    return {of<Current>(1.5 * amps), of<Current>(2.1 * amps), false};
}

std::optional<Current> fuseFor(Current running) {
    const auto rating = nextInList(si(running) / si(Fuse{}.derating), fittedRatings());
    return rating ? std::optional(of<Current>(*rating)) : std::nullopt;
}

Result<Worked<FuseResult>> fuse(const Fuse& in) {
    Worked<FuseResult> out;
    auto& r = out.result;
    r.smallest_rating = of<Current>(si(in.running_current) / si(in.derating));
    addStep(out.steps, "If", "smallest rating that holds for good", "{I}/{k}", {{"I", in.running_current}, {"k", in.derating}},
            r.smallest_rating, "derating: common practice, no published source");
    const auto next = nextInList(si(r.smallest_rating), fuseRatings());
    if (next) {
        r.standard = of<Current>(*next);
        addStep(out.steps, "Is", "next rating made", "{If} rounded up", {{"If", r.smallest_rating}}, *r.standard, "iec-60127");
    } else {
        out.findings.push_back({"fuse-past-list", Severity::Stop,
                                fmt::format("No fuse of this kind is made for {}; the largest is 10 A. Beyond it blade fuses go to 30 A.",
                                            display(r.smallest_rating))});
    }
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr fuseForm() {
    auto form = std::make_shared<FormOf<Fuse, FuseResult>>("fuse", "feed", "the fuse for a running current", "iec-60127", &fuse);
    form->rule("smallest_rating = running_current/derating; standard = next of the list")
        .in("running_current", &Fuse::running_current, nullptr, "that flows for long")
        .in("derating", &Fuse::derating, "0.75", "share of its rating that a fuse carries for good")
        .out("smallest_rating", &FuseResult::smallest_rating, "exact")
        .out("standard", &FuseResult::standard, "next rating made", "A");
    return form;
}

}  // namespace hinge::power
