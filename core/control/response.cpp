#include "control/response.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <array>
#include "quantity/kind.hpp"
#include "quantity/text.hpp"

namespace hinge::control {

std::optional<Response> readResponse(const std::vector<LoopRow>& rows, const Target& target, double least, double most) {
    std::size_t at = 0;
    for (std::size_t i = 1; i < rows.size() && at == 0; ++i)
        if (rows[i].wanted != rows[i - 1].wanted) at = i;
    if (at == 0 || rows.size() - at < 10) return std::nullopt;
    Response r;
    std::size_t end = rows.size();  // of this step, if another follows
    for (std::size_t i = at + 1; i < rows.size() && end == rows.size(); ++i)
        if (rows[i].wanted != rows[at].wanted) end = i;
    if (end - at < 10) return std::nullopt;
    for (std::size_t i = 0; i < at; ++i) r.start += rows[i].reading / static_cast<double>(at);
    r.target = rows[at].wanted;
    const double step = r.target - r.start;
    if (step == 0.0) return std::nullopt;
    const auto share = [&](std::size_t i) { return (rows[i].reading - r.start) / step; };
    const double began = rows[at].time;
    const std::size_t count = end - at, tail = end - std::max<std::size_t>(5, count / 4);
    double mean = 0.0, square = 0.0, jump = 0.0;
    const auto n = static_cast<double>(end - tail);
    for (std::size_t i = tail; i < end; ++i) mean += share(i) / n, r.effort += std::abs(rows[i].drive) / n;
    for (std::size_t i = tail; i < end; ++i)
        square += (share(i) - mean) * (share(i) - mean) / n, r.hum += std::abs(rows[i].drive - rows[i - 1].drive) / n;
    // What the sensor adds: half of the mean square of the differences from row to row, which slow swings hardly have.
    for (std::size_t i = tail; i < end; ++i) jump += (share(i) - share(i - 1)) * (share(i) - share(i - 1)) / (2.0 * n);
    r.lean = mean - 1.0;
    r.noise = std::sqrt(square);
    // But when the drive swings as well, it is the loop that rings from period to period.
    const double sensor = r.hum > 0.05 * (most - least) ? 0.0 : std::sqrt(jump), band = std::max(target.band, 2.0 * sensor);
    std::optional<double> tenth, nine;
    double peak = -1e300;
    int side = 0;
    std::size_t last_out = at;
    double early = 0.0, late = 0.0;
    bool reached = false;
    int stuck = 0, near = 0;
    for (std::size_t i = at; i < end; ++i) {
        const double s = share(i), t = rows[i].time - began;
        if (!tenth && s >= 0.1) tenth = t;
        if (!nine && s >= 0.9) nine = t;
        if (s > peak) peak = s, r.peak_at = t;
        if (std::abs(s) > 0.1) r.moved = true;
        r.most = std::max(r.most, std::abs(rows[i].drive));
        if (std::abs(s - 1.0) > band) last_out = i;
        if (s >= 1.0) reached = true;
        if (reached) {
            const int now = s > 1.0 + band ? 1 : s < 1.0 - band ? -1 : 0;
            if (now != 0 && now != side) ++r.rings, side = now;
        }
        (i < at + count / 2 ? early : late) = std::max(i < at + count / 2 ? early : late, std::abs(s - 1.0));
        if (nine) ++near, stuck += rows[i].drive >= most - 1e-9 || rows[i].drive <= least + 1e-9 ? 1 : 0;
    }
    if (tenth && nine) r.rise = *nine - *tenth;
    r.overshoot = std::max(0.0, peak - 1.0 - sensor);
    if (last_out + 1 < end) r.settled = last_out == at && std::abs(share(at) - 1.0) <= band ? 0.0 : rows[last_out + 1].time - began;
    r.limited = near > 8 && stuck * 4 >= near;
    double lowest = 0.0;
    for (std::size_t i = at; i < end; ++i) lowest = std::min(lowest, share(i));
    r.runs_away = lowest < -0.5 || (late > std::max(0.5, 1.2 * early) && early > 0.0) || peak > 4.0;
    return r;
}

Standing readStanding(const std::vector<LoopRow>& rows) {
    Standing s;
    const auto off = [&](std::size_t i) { return std::abs(rows[i].reading - rows[i].wanted); };
    std::size_t begins = 0, n = rows.size();
    // Up to where it first stands it was being set up.
    for (std::size_t i = 0; i < n && rows[i].time < rows[begins].time + 0.25; ++i)
        if (off(i) > fallen / 2.0) begins = i + 1;
    if (begins >= n || rows.back().time < rows[begins].time + 0.25) return s;
    for (std::size_t i = begins; i < n; ++i)
        if (off(i) >= fallen) n = i;
    s.stands = n == rows.size() && n - begins > 10;
    const std::size_t tail = n - (n - begins) / 4;
    for (std::size_t i = begins; i < n; ++i) {
        if (rows[i].time > rows[begins].time + 1.0) s.furthest = std::max(s.furthest, off(i));
        if (i >= tail && i > 0)
            s.wanders += off(i) * off(i) / static_cast<double>(n - tail),
                s.hum += std::abs(rows[i].drive - rows[i - 1].drive) / static_cast<double>(n - tail);
    }
    s.wanders = std::sqrt(s.wanders);
    return s;
}

Standing readStanding(const LoopRun& run) {
    auto s = readStanding(run.rows);
    s.stands = s.stands && !run.troubled;
    return s;
}

bool meets(const Response& r, const Target& target) {
    return !r.runs_away && r.settled && *r.settled <= target.settle_within && r.overshoot <= target.band;
}

namespace {

// "a third", "a tenth", "half": what a person says of a share.
std::string inWords(double share) {
    struct Known {
        double share;
        const char* words;
    };
    constexpr std::array known{Known{0.1, "a tenth"},       Known{0.2, "a fifth"}, Known{0.25, "a quarter"},
                               Known{1.0 / 3.0, "a third"}, Known{0.5, "half"},    Known{2.0 / 3.0, "two thirds"}};
    if (share < 0.085) return fmt::format("{:.0f} %", std::max(1.0, share * 100.0));
    for (const auto& each : known)
        if (std::abs(share - each.share) < 0.13 * each.share) return each.words;
    return share >= 0.95 && share < 1.05 ? "all of the step" : fmt::format("{:.0f} %", share * 100.0);
}
std::string times(int n) {
    return n == 1 ? "once" : n == 2 ? "twice" : fmt::format("{} times", n);
}
std::string seconds(double s) {
    return display(Kind::Duration, s, 2);
}

}  // namespace

Words sayResponse(const Response& r, const ParallelGains& gains, const Target& target) {
    const bool has_d = gains.derivative != 0.0, has_i = gains.integral != 0.0;
    if (r.runs_away)
        return {
            "It runs away: its swings grow instead of dying.",
            fmt::format("Halve P{} at once. If it goes the wrong way from the start, the sensor or the motor is wired the other way round.",
                        has_i ? " and I" : "")};
    if (!r.moved)
        return {"It hardly moves.", gains.proportional == 0.0 && !has_i
                                        ? "All gains are zero: raise P until something stirs."
                                        : "More P; and look at its start duty: below it a motor only hums."};
    const std::string over = r.overshoot > target.band ? fmt::format("overshoots by {}", inWords(r.overshoot)) : "";
    if (r.rings >= 3 || (r.rings >= 2 && !r.settled)) {
        const std::string matter =
            fmt::format("It {}rings {}{}.", over.empty() ? "" : over + " and ", times(r.rings),
                        r.settled ? fmt::format(", and settles in {}", seconds(*r.settled)) : " and does not settle");
        return {matter, has_i && gains.integral * 0.3 > gains.proportional ? "Less I: it pushes on long after it is there. Then less P."
                        : has_d && r.hum > 0.05                            ? "Less P. D is already large: it hums."
                                                                           : "Less P, or more D."};
    }
    if (!over.empty()) {
        const std::string matter =
            fmt::format("It {}{}.", over, r.settled ? fmt::format(", then settles in {}", seconds(*r.settled)) : ", and does not settle");
        return {matter, has_i ? "A little less I, or more D, makes it calmer." : "A little less P, or some D, makes it calmer."};
    }
    if (std::abs(r.lean) > target.band)
        return {fmt::format("It stays {} {}.", inWords(std::abs(r.lean)), r.lean < 0.0 ? "short" : "too far"),
                r.limited ? "The drive stands at its limit: no gain helps. Ask less of it, or give it a stronger part."
                : has_i   ? "More I takes out the lean; it has not had time."
                          : "I takes out the lean: begin with a tenth of P for each period."};
    if (!r.settled)
        return {fmt::format("It comes near and does not stay within {:.0f} %.", target.band * 100.0),
                r.hum > 0.05 ? "Its drive hums: less D, or smooth the change."
                             : "A sensor that counts coarsely cannot do better: a longer period counts finer."};
    if (*r.settled > target.settle_within)
        return {fmt::format("It is calm and slow: {} where you asked for {}.", seconds(*r.settled), seconds(target.settle_within)),
                r.limited ? "The drive stands at its limit on the way: no gain makes it quicker." : "More P; then as much I again."};
    if (r.hum > 0.1)
        return {fmt::format("It settles in {}, but its drive hums.", seconds(*r.settled)),
                "Less D, or smooth the change: what is heard wears the gear."};
    return {fmt::format("It settles in {}{}, as you asked.", seconds(*r.settled),
                        r.overshoot > 0.005 ? fmt::format(" and overshoots by {}", inWords(r.overshoot)) : " without overshoot"),
            "Keep it. Try it with another load, and when it is warm."};
}

Guidance guide(GuideStep step, const ParallelGains& gains, const std::optional<Response>& r, const Target& target, double first_p,
               double period) {
    Guidance g{step, gains, {}};
    const bool quivers = r && (r->runs_away || r->rings >= 3), calm = r && !r->runs_away && r->rings <= 1;
    switch (step) {
        case GuideStep::RaiseP:
            if (!quivers) {
                g.next = {gains.proportional > 0.0 ? gains.proportional * 1.5 : first_p, 0.0, 0.0};
                g.words = gains.proportional > 0.0 ? "It does not quiver yet. Half as much P again."
                                                   : "All zero. A little P first: watch that it goes the right way.";
                return g;
            }
            g.step = GuideStep::BackOff;
            g.next = {gains.proportional * 0.5, 0.0, 0.0};
            g.words = "It quivers: that is as far as P goes. Back to half of it.";
            return g;
        case GuideStep::BackOff:
        case GuideStep::AddD:
            if (!calm && gains.derivative < gains.proportional * period * 8.0) {
                g.step = GuideStep::AddD;
                g.next.derivative = gains.derivative > 0.0 ? gains.derivative * 1.5 : gains.proportional * period * 0.5;
                g.words = "It still rings. D calms it: a little more.";
                return g;
            }
            g.step = GuideStep::AddI;
            g.next.integral = gains.proportional / std::max(period * 20.0, r && r->rise ? *r->rise : period * 20.0);
            g.words = "Calm. Now I takes out the lean.";
            return g;
        case GuideStep::AddI:
            if (r && meets(*r, target)) {
                g.step = GuideStep::Done;
                g.words = "That is what you asked for. Keep it.";
                return g;
            }
            if (r && (r->rings >= 2 || r->overshoot > target.band || r->runs_away)) {
                g.next.integral = gains.integral * 0.7;
                g.next.proportional = r->rings >= 3 || r->runs_away ? gains.proportional * 0.8 : gains.proportional;
                g.words = r->rings >= 3 ? "It rings: less I and less P." : "It goes too far: less I.";
                return g;
            }
            g.next.integral = gains.integral * 1.4;
            g.words = "The lean goes too slowly: more I.";
            return g;
        case GuideStep::Done: g.words = "That is what you asked for. Keep it."; return g;
    }
    return g;
}

}  // namespace hinge::control
