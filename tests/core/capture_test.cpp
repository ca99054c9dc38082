// Captures: what the format says, what a train of known edges must measure, and what is no capture.
#include "capture/capture.hpp"
#include <fmt/format.h>
#include <rapidcheck.h>
#include <cmath>
#include <random>
#include <sstream>
#include "proof/capture_check.hpp"
#include "support/demo.hpp"

namespace hinge::capture {
namespace {

Result<Capture> parse(const std::string& text, Options options = {}) {
    std::istringstream in(text);
    return read(in, "capture", options);
}
std::string vcd(const std::string& body, const std::string& scale = "1 us") {
    return "$date today $end $timescale " + scale +
           " $end\n$scope module top $end $var wire 1 ! pump $end $var wire 1 \" step $end $upscope $end $enddefinitions $end\n" + body;
}

// IEEE 1364-2005, 18.2: time in #, scalars without a space, vectors and reals with one; x and z (from memory).
TEST(Vcd, readsScalarsVectorsRealsAndUnknowns) {
    const auto capture = parse(
        "$timescale 10 ns $end $scope module m $end $var reg 4 % bus [3:0] $end $var wire 1 # one $end $var real 64 r level $end $upscope "
        "$end $enddefinitions $end\n"
        "#0 $dumpvars b0101 % x# r0.2 r $end\n#100 b11 % 1# r4.8 r\n#200 0#\n#300 bz %\n");
    ASSERT_TRUE(capture) << sentence(capture.error());
    ASSERT_EQ(capture->signals.size(), 6U);
    EXPECT_EQ(capture->signals[0].name, "bus[3:0].3");
    EXPECT_DOUBLE_EQ(capture->time_step, 1e-8);
    EXPECT_DOUBLE_EQ(capture->length, 3e-6);
    // 0101 → 0011: bits 2 and 1 turn.
    EXPECT_EQ(capture->signals[0].rises + capture->signals[0].falls, 0U);
    EXPECT_EQ(capture->signals[1].falls, 1U);
    EXPECT_EQ(capture->signals[2].rises, 1U);
    EXPECT_EQ(capture->signals[3].rises + capture->signals[3].falls, 0U);
    for (int bit = 0; bit < 4; ++bit) EXPECT_EQ(capture->signals[static_cast<std::size_t>(bit)].unknowns, 1U) << "z spreads to the left";
    EXPECT_EQ(capture->signals[4].rises, 0U) << "from x to 1 is no edge";
    EXPECT_EQ(capture->signals[4].falls, 1U);
    EXPECT_EQ(capture->signals[5].rises, 1U) << "0.2 V to 4.8 V";
}

TEST(Vcd, measuresAnEvenTrainByHand) {
    // Ten periods of 1 ms, high for 250 µs.
    std::string body = "#0\n0!\n0\"\n";
    for (int i = 0; i < 10; ++i) body += "#" + std::to_string(500 + i * 1000) + "\n1!\n#" + std::to_string(750 + i * 1000) + "\n0!\n";
    const auto capture = parse(vcd(body));
    ASSERT_TRUE(capture);
    const auto& pump = capture->signals[0];
    EXPECT_EQ(pump.rises, 10U);
    EXPECT_EQ(pump.looks, Looks::EvenPulses);
    EXPECT_NEAR(*pump.frequency, 1000.0, 1e-6);
    EXPECT_NEAR(*pump.duty, 0.25, 1e-9);
    EXPECT_NEAR(pump.high.mean, 250e-6, 1e-12);
    EXPECT_NEAR(pump.low.longest, 750e-6, 1e-12);
    EXPECT_NEAR(pump.period.deviation, 0.0, 1e-9);
    EXPECT_NEAR(pump.jitter, 0.0, 1e-9);
    EXPECT_EQ(pump.missing, 0U);
    EXPECT_EQ(capture->signals[1].looks, Looks::Still);
}

TEST(Vcd, countsWhatWasLeftOutAndCutShort) {
    PulseMeter meter;
    meter.level(0.0, 0);
    for (int i = 0; i < 40; ++i) {
        if (i == 10 || i == 20 || i == 21) continue;  // one pulse missing, then two together
        meter.level(0.001 * i + 1.0, 1);
        meter.level(0.001 * i + 1.0 + (i == 30 ? 0.0001 : 0.0005), 0);
    }
    const auto seen = meter.finish("line");
    EXPECT_EQ(seen.missing, 3U);
    EXPECT_EQ(seen.short_pulses, 1U);
    EXPECT_EQ(seen.pauses, 0U);
    EXPECT_NEAR(*seen.frequency, 1000.0, 1e-6) << "the gaps do not shift the typical period";
}

TEST(Vcd, aPauseEndsABurst) {
    PulseMeter meter;
    meter.level(0.0, 0);
    meter.level(0.5, 1), meter.level(0.6, 0);  // one press
    for (int burst = 0; burst < 3; ++burst)
        for (int i = 0; i < 20; ++i) meter.level(2.0 + burst + 0.001 * i, 1), meter.level(2.0 + burst + 0.001 * i + 0.0002, 0);
    const auto seen = meter.finish("line");
    EXPECT_EQ(seen.burst_count, 4U);
    EXPECT_EQ(seen.pauses, 3U);
    ASSERT_EQ(seen.bursts.size(), 4U);
    EXPECT_EQ(seen.bursts[0].pulses, 1U);
    EXPECT_EQ(seen.bursts[1].pulses, 20U);
    EXPECT_NEAR(seen.bursts[2].start, 3.0, 1e-12);
    EXPECT_NEAR(*seen.frequency, 1000.0, 1e-6);
    EXPECT_NEAR(*seen.duty, 0.2, 1e-9);
}

// From rest at an even acceleration a the k-th step falls at √(2k/a) (kinematics, exact); here up to a
// speed, on, and down again.
TEST(Ramps, theAccelerationOfATrapezoidComesBack) {
    const double a = 4000.0, v = 2000.0;
    const int n = 3000;
    const double ramp_steps = v * v / (2 * a);
    std::vector<double> at;
    const double ramp_time = v / a, cruise_time = (n - 2 * ramp_steps) / v, whole = 2 * ramp_time + cruise_time;
    for (int k = 1; k <= n; ++k) {
        if (k <= ramp_steps) at.push_back(std::sqrt(2 * k / a));
        else if (k <= n - ramp_steps) at.push_back(ramp_time + (k - ramp_steps) / v);
        else at.push_back(whole - std::sqrt(2.0 * (n - k) / a));
    }
    PulseMeter meter;
    meter.level(0.0, 0);
    for (const double t : at) meter.level(t, 1), meter.level(t + 2e-6, 0);
    const auto seen = meter.finish("step");
    EXPECT_EQ(seen.looks, Looks::RampedPulses);
    ASSERT_EQ(seen.bursts.size(), 1U);
    EXPECT_EQ(seen.bursts[0].pulses, 3000U);
    EXPECT_NEAR(seen.bursts[0].peak_rate, v, 1e-3);
    ASSERT_TRUE(seen.bursts[0].acceleration && seen.bursts[0].deceleration);
    EXPECT_NEAR(*seen.bursts[0].acceleration / a, 1.0, 1e-6);
    EXPECT_NEAR(*seen.bursts[0].deceleration / a, 1.0, 1e-6);
    EXPECT_EQ(seen.missing, 0U) << "slow first steps are no missing ones";
    EXPECT_EQ(seen.pauses, 0U);
}

// Against sums over all intervals at once.
TEST(Widths, equalTheTextbookSums) {
    rc::check("mean, deviation, ends", [] {
        const auto widths = *rc::gen::nonEmpty(rc::gen::container<std::vector<int>>(rc::gen::inRange(1, 1'000'000)));
        WidthMeter meter;
        double sum = 0.0, least = 1e9, most = 0.0;
        for (const int w : widths) meter.add(w * 1e-6), sum += w * 1e-6, least = std::min(least, w * 1e-6), most = std::max(most, w * 1e-6);
        const double mean = sum / static_cast<double>(widths.size());
        double squares = 0.0;
        for (const int w : widths) squares += (w * 1e-6 - mean) * (w * 1e-6 - mean);
        const auto seen = meter.result();
        RC_ASSERT(seen.count == widths.size());
        RC_ASSERT(std::abs(seen.mean - mean) < 1e-12);
        RC_ASSERT(seen.shortest == least && seen.longest == most);
        RC_ASSERT(std::abs(seen.deviation - std::sqrt(squares / static_cast<double>(widths.size()))) < 1e-9);
    });
}

TEST(Csv, theSameTrainInThreeDialects) {
    for (const auto& [heading, separator, scale] : {std::tuple{"time [ms];pump;step", ';', 1e3},
                                                    std::tuple{"Time (us)\tpump\tstep", '\t', 1e6}, std::tuple{"t,pump,step", ',', 1.0}}) {
        std::string text = "# a capture\n" + std::string{heading} + "\r\n";
        for (int i = 0; i < 400; ++i) {
            const double t = i * 0.0005 + 12.0;
            text += fmt::format("{}{}{}{}{:.2f}\r\n", t * scale, separator, i % 4 == 1 ? 1 : 0, separator, i % 2 == 0 ? 0.08 : 4.91);
        }
        const auto capture = parse(text);
        ASSERT_TRUE(capture) << sentence(capture.error());
        EXPECT_EQ(capture->format, Format::Csv);
        ASSERT_EQ(capture->signals.size(), 2U);
        EXPECT_EQ(capture->signals[0].name, "pump");
        EXPECT_NEAR(*capture->signals[0].frequency, 500.0, 1e-6) << heading;
        EXPECT_NEAR(*capture->signals[0].duty, 0.25, 1e-6);
        EXPECT_NEAR(*capture->signals[1].frequency, 1000.0, 1e-6) << "volts against the threshold";
        EXPECT_NEAR(capture->length, 399 * 0.0005, 1e-9);
        ASSERT_FALSE(capture->remarks.empty());
        EXPECT_EQ(capture->remarks.front().id, "capture-coarse") << "a pulse of one sample";
    }
}

TEST(Refused, namesThePlace) {
    struct Case {
        const char* name;
        std::string text;
        const char* place;
        const char* what;
    };
    for (const auto& c :
         {Case{"empty", "", "capture", "empty"}, Case{"blank", "\n  \n", "capture", "empty"},
          Case{"binary", std::string("time,a\n0,1\n\0\1\2,3\n", 17), "line", "no text"},
          Case{"no declaration end", "$timescale 1 ns $end", "line", "enddefinitions"},
          Case{"strange scale", vcd("", "3 ns"), "line", "3 ns"},
          Case{"no lines", "$timescale 1 ns $end $enddefinitions $end\n#0\n", "capture", "$var"},
          Case{"time goes back", vcd("#5\n0!\n#4\n1!\n"), "line 5", "goes back"}, Case{"unknown code", vcd("#5\n0?\n#6\n"), "line 4", "0?"},
          Case{"csv goes back", "t,a\n2,0\n1,0\n", "line 3", "goes back"}, Case{"decimal comma", "t;a\n0,5;0\n", "line 2", "0,5"},
          Case{"wide row", "t,a\n0,1\n1,1,1\n2,1\n", "line 3", "3 cells"},
          Case{"no time unit", "time [furlongs],a\n0,1\n", "line 1", "furlongs"}}) {
        const auto capture = parse(c.text);
        ASSERT_FALSE(capture) << c.name;
        EXPECT_EQ(capture.error().code, ErrorCode::BadFormat) << c.name;
        const std::string said = sentence(capture.error());
        EXPECT_NE(said.find(c.place), std::string::npos) << c.name << ": " << said;
        EXPECT_NE(said.find(c.what), std::string::npos) << c.name << ": " << said;
    }
    EXPECT_EQ(readFile("/no/such/file").error().code, ErrorCode::NotFound);
    EXPECT_EQ(readFile("/tmp").error().code, ErrorCode::NotPlain);
}

TEST(Refused, aStopIsObeyed) {
    std::string text = vcd("");
    for (int i = 0; text.size() < 3'000'000; ++i) text += "#" + std::to_string(i) + "\n" + (i % 2 ? "1!\n" : "0!\n");
    Options options;
    options.progress = [](std::uint64_t bytes) { return bytes < 1'500'000; };
    EXPECT_EQ(parse(text, options).error().code, ErrorCode::Cancelled);
}

// However a capture is damaged: an answer or a refusal, never a crash.
TEST(Damaged, cutAtEveryPlace) {
    std::string body = "#0\n0!\n0\"\n$comment a b $end\n";
    for (int i = 1; i < 60; ++i) body += "#" + std::to_string(i * 37) + "\n" + std::to_string(i % 2) + "!\n";
    const std::string whole = vcd(body);
    std::size_t cut_ones = 0;
    for (std::size_t length = 0; length < whole.size(); ++length) {
        const auto capture = parse(whole.substr(0, length));
        if (capture) cut_ones += capture->remarks.empty() ? 0U : 1U;
        else EXPECT_EQ(capture.error().code, ErrorCode::BadFormat);
    }
    EXPECT_GT(cut_ones, 50U) << "breaks are remarked on";
}
TEST(Damaged, anyBytesAtAll) {
    std::mt19937 random(4);
    const std::string whole = vcd("#0\n0!\n0\"\n#10\n1!\nb01 !\n#20\n0!\nr1.5 \"\n#30\n1!\n");
    for (int i = 0; i < 3000; ++i) {
        std::string text = whole;
        for (int flips = 0; flips < 4; ++flips) text[random() % text.size()] = static_cast<char>(random() % 256);
        (void)parse(text);
        std::string csv = "t,a,b\n0,0,1.5\n1,1,2.5\n2,0,0.1\n";
        for (int flips = 0; flips < 3; ++flips) csv[random() % csv.size()] = static_cast<char>(random() % 256);
        (void)parse(csv);
    }
}

TEST(Edges, areKeptAsFarAsAsked) {
    Options options;
    options.keep_edges = 5;
    const auto capture = parse(vcd("#0\n0!\n1\"\n#1\n1!\n#2\n0!\n#3\n0\"\n#4\nx!\n#5\n1!\n#6\n0!\n#7\n1!\n"), options);
    ASSERT_TRUE(capture);
    ASSERT_EQ(capture->lines.size(), 2U);
    EXPECT_EQ(capture->lines[0].first_level, 0);
    EXPECT_EQ(capture->lines[0].edges.size(), 4U);
    EXPECT_EQ(capture->lines[1].edges.size(), 1U);
    EXPECT_TRUE(capture->edges_cut);
}

// The stage's plan against captures made to its figures, and against ones that are off.
TEST(AgainstThePlan, holdsTightAndBreaks) {
    const auto project = store::load(HINGE_SOURCE_DIR "/demos/paper-moon-stage")->project;
    const auto plan = plan::evaluate(project, test::shippedParts());
    const project::Channel* fan = nullptr;
    const plan::ChannelPlan* planned = nullptr;
    for (const auto& channel : project.channels)
        if (plan::findChannel(plan, channel.id)->signal == plan::SignalKind::FanPwm)
            fan = &channel, planned = plan::findChannel(plan, channel.id);
    ASSERT_NE(fan, nullptr);
    const double f = si(planned->pwm->actual_frequency);
    const auto verdictAt = [&](double frequency) {
        Capture capture;
        PulseMeter meter;
        meter.level(0.0, 0);
        for (int i = 1; i < 100; ++i) meter.level(i / frequency, 1), meter.level((i + 0.5) / frequency, 0);
        capture.signals.push_back(meter.finish(fan->pin));
        const auto checks = proof::checkCapture(capture, project, plan);
        return checks.empty() ? Verdict::Unknown : checks.front().verdict;
    };
    EXPECT_EQ(verdictAt(f), Verdict::Holds);
    EXPECT_EQ(verdictAt(f * 1.009), Verdict::Holds);
    EXPECT_EQ(verdictAt(f * 0.98), Verdict::Tight);
    EXPECT_EQ(verdictAt(490.0), Verdict::Breaks) << "analogWrite's own frequency, as a sketch without the timer's set-up gives it";
    EXPECT_EQ(proof::channelOfSignal(project, "no such line"), nullptr);
    // By a word of its name, or as the only one of its kind; two of a kind are not told apart by it.
    auto blows = project::addRunningChannel(project, project::ChannelKind::Blow, "mist fan");
    ASSERT_NE(proof::channelOfSignal(blows, "fan"), nullptr);
    EXPECT_EQ(proof::channelOfSignal(blows, "FAN")->name, "mist fan");
    blows = project::addRunningChannel(blows, project::ChannelKind::Blow, "drier");
    EXPECT_EQ(proof::channelOfSignal(blows, "fan")->name, "mist fan");
    EXPECT_EQ(proof::channelOfSignal(blows, "blower"), nullptr);
}

}  // namespace
}  // namespace hinge::capture
