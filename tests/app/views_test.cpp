// Presenters and the theme, without a window: text and states, contrast of every pair.
#include <algorithm>
#include <map>
#include <set>
#include "app/fixture.hpp"
#include "catalogue/catalogue.hpp"
#include "project/routine_edits.hpp"
#include "stages/facts_view.hpp"
#include "stages/need/brief_view.hpp"
#include "stages/opening.hpp"
#include "stages/routine/routine_sentences.hpp"
#include "stages/working_view.hpp"
#include "support/demo.hpp"
#include "theme/marks.hpp"

namespace hinge::app {
namespace {

using project::Stage;

Model demoModel(const char* folder = "/tests/projects/rain-alone") {
    Document document(HINGE_SOURCE_DIR "/parts");
    document.setCompiling(false);
    EXPECT_TRUE(document.open(QString(HINGE_SOURCE_DIR) + folder).isEmpty());
    document.settle();
    return document.model();
}

bool hasFact(const std::vector<FactGroup>& groups, const std::string& path) {
    return std::any_of(groups.begin(), groups.end(), [&](const FactGroup& g) {
        return std::any_of(g.facts.begin(), g.facts.end(), [&](const project::Fact& f) { return f.path == path; });
    });
}

TEST(Facts, standAtTheStageTheyBelongTo) {
    const auto model = demoModel();
    EXPECT_TRUE(hasFact(factsOf(model, Stage::Need, "rain"), "channels/rain/demand/lift"));
    EXPECT_FALSE(hasFact(factsOf(model, Stage::Need, "rain"), "brief/purpose"));
    EXPECT_TRUE(hasFact(factsOf(model, Stage::Need, ""), "brief/purpose"));
    EXPECT_TRUE(hasFact(factsOf(model, Stage::Tune, "rain"), "channels/rain/calibration/cup_volume"));
    EXPECT_TRUE(hasFact(factsOf(model, Stage::Feed, "rain"), "rails/logic/theta_ja")) << "a linear regulator has a heat path";
    EXPECT_FALSE(hasFact(factsOf(model, Stage::Feed, "rain"), "rails/movers/theta_ja")) << "a straight wire has none";
    EXPECT_FALSE(hasFact(factsOf(model, Stage::Feed, "rain"), "rails/logic/efficiency"));
}

// Over the six channels of the stage, every kind of fact is shown where it has a meaning.
TEST(Facts, everyLabelledFactStandsSomewhere) {
    auto model = demoModel("/demos/paper-moon-stage");
    for (const auto& name : Names<project::InputKind>::all) model.project = project::addInput(model.project, name.value, name.id);
    // What only a transistor with a base has, and what only a driver with a heat-sink has.
    for (auto& channel : model.project.channels)
        if (channel.id == "lamps") channel.drive.part = "npn_power", channel.drive.heat_sink = of<ThermalResistance>(20.0);
    // What only a bare LED has.
    model.project = hinge::test::edited(project::addRunningChannel(model.project, project::ChannelKind::Switch, "status"),
                                        {{"channels/status/actuator", "led_red_5mm"},
                                         {"channels/status/drive/part", "straight_from_pin"},
                                         {"channels/status/rail", "logic"}});
    // What only a lamp of three colours has.
    model.project = hinge::test::edited(project::addRunningChannel(model.project, project::ChannelKind::Switch, "glow"),
                                        {{"channels/glow/actuator", "led_rgb_string_12v_1m"},
                                         {"channels/glow/drive/part", "mosfet_logic_30v"},
                                         {"channels/glow/rail", "movers"}});
    // What only something has that is turned round.
    model.project = hinge::test::edited(project::addRunningChannel(model.project, project::ChannelKind::Turn, "door"),
                                        {{"channels/door/actuator", "small_12v_g100"},
                                         {"channels/door/drive/part", "bridge_inputs_4a"},
                                         {"channels/door/rail", "movers"},
                                         {"routine/cues/run_door/moves/goes/action", "run"},
                                         {"routine/cues/run_door/moves/goes/backwards", "yes"}});
    // What only a bridge has with an input for each of its switches.
    model.project = hinge::test::edited(project::addRunningChannel(model.project, project::ChannelKind::Turn, "gate"),
                                        {{"channels/gate/actuator", "small_12v_g100"},
                                         {"channels/gate/drive/part", "bridge_switches_8a"},
                                         {"channels/gate/rail", "movers"}});
    // What only a servo has that turns on.
    model.project = hinge::test::edited(project::addRunningChannel(model.project, project::ChannelKind::Turn, "wheel"),
                                        {{"channels/wheel/actuator", "servo_micro_turning"},
                                         {"channels/wheel/drive/part", "straight_from_pin"},
                                         {"channels/wheel/rail", "servo"}});
    // What only a driver has whose settings are registers.
    model.project = hinge::test::edited(project::addRunningChannel(model.project, project::ChannelKind::Turn, "crane"),
                                        {{"channels/crane/actuator", "stepper_42mm_short"},
                                         {"channels/crane/drive/part", "chopper_serial_strong"},
                                         {"channels/crane/rail", "movers"},
                                         {"channels/crane/demand/mass", "60 g"},
                                         {"channels/crane/demand/arm", "80 mm"},
                                         {"channels/crane/demand/angle", "90 deg"},
                                         {"channels/crane/demand/time", "2 s"}});
    // What only a servo behind an expander has.
    for (const auto& [name, part] : {std::pair{"eye", "servo_expander_i2c"}, {"lid", "servo_expander_serial"}})
        model.project = hinge::test::edited(project::addRunningChannel(model.project, project::ChannelKind::Turn, name),
                                            {{fmt::format("channels/{}/actuator", name), "servo_micro_digital"},
                                             {fmt::format("channels/{}/drive/part", name), part},
                                             {fmt::format("channels/{}/rail", name), "servo"}});
    // What only a radio on a line of its own has.
    model.project.board.radio = model.project.board.radio_apart = true;
    // What only an input on a board of more lines has.
    for (auto& input : model.project.inputs)
        if (input.kind == project::InputKind::Button) input.expander = "io_expander_two_wire";
    // What only a tach has that belongs to a channel, and a move in line with another.
    for (auto& input : model.project.inputs)
        if (input.kind == project::InputKind::Tach) input.belongs_to = "turntable";
    for (const char* channel : {"crane", "wheel"})
        model.project = project::addMove(model.project, model.project.routine.cues.front().id, routine::Action::Go, channel);
    model.project.routine.cues.front().moves.back().together = true;
    // What only something has that is fired into half-waves of the mains.
    model.project = hinge::test::edited(project::addRunningChannel(model.project, project::ChannelKind::Switch, "dimmed"),
                                        {{"channels/dimmed/demand/feeding", "mains"},
                                         {"channels/dimmed/demand/dimmed", "yes"},
                                         {"channels/dimmed/demand/load", "lamp"},
                                         {"channels/dimmed/demand/power", "40 W"},
                                         {"channels/dimmed/actuator", "filament_230v_40w"},
                                         {"channels/dimmed/drive/part", "phase_4a"}});
    model.plan = plan::evaluate(model.project, model.parts);
    // What stands at each stage of each channel, looked up once.
    std::map<std::pair<int, std::string>, std::set<std::string>> stands;
    const auto shownAt = [&](int stage, const std::string& channel) -> const std::set<std::string>& {
        const auto [at, first] = stands.try_emplace({stage, channel});
        if (first)
            for (const auto& group : factsOf(model, static_cast<Stage>(stage), QString::fromStdString(channel)))
                for (const auto& fact : group.facts) at->second.insert(fact.path);
        return at->second;
    };
    std::map<std::string, bool> leaves;  // without the channel's name
    for (const auto& fact : project::facts(model.project)) {
        std::string leaf = fact.path;
        const bool of_channel = leaf.starts_with("channels/");
        const std::string id = of_channel ? leaf.substr(9, leaf.find('/', 9) - 9) : "";
        if (of_channel) leaf = leaf.substr(leaf.find('/', 9) + 1);
        if (of_channel && leaf.starts_with("demand/") && !project::applies(project::findChannel(model.project, id)->demand, leaf.substr(7)))
            continue;
        if (leaf.find("/moves/") != std::string::npos)
            leaf = "a move/" + leaf.substr(leaf.rfind('/') + 1);                                 // where it goes, only when it goes
        if (leaf.starts_with("inputs/")) leaf = "an input/" + leaf.substr(leaf.rfind('/') + 1);  // what its kind is made of
        bool shown = leaf.starts_with("rails/") || leaf.starts_with("sources/") || leaf.ends_with("/upper") || leaf.ends_with("/lower") ||
                     leaf == "a move/input" || leaf == "a move/released" || leaf == "a move/times" ||
                     (leaf.starts_with("routine/cues/") &&
                      std::set<std::string>{"held", "every", "after", "on_release", "at_power_up", "late"}.contains(
                          leaf.substr(leaf.rfind('/') + 1)));  // shown only for the kind that has them
        for (int s = 0; s < project::stageCount && !shown; ++s)
            for (const std::string& channel : {of_channel ? id : std::string{"rain"}, std::string{}})
                shown = shown || shownAt(s, channel).contains(fact.path);
        leaves[leaf] = leaves[leaf] || shown;
    }
    for (const auto& [leaf, shown] : leaves) EXPECT_TRUE(shown) << leaf;
}
// A servo behind an expander is offered the expander's outputs, with who sits there, and not the board's pins.
TEST(Facts, offerTheOutputsOfAnExpander) {
    auto model = demoModel("/demos/paper-moon-stage");
    model.project =
        hinge::test::edited(model.project, {{"channels/moon/drive/part", "servo_expander_serial"}, {"channels/moon/pin", "X1"}});
    model.project = project::duplicateChannel(model.project, "moon");
    auto& copy = *std::find_if(model.project.channels.begin(), model.project.channels.end(),
                               [](const auto& c) { return c.name == "Moon arm 2" || c.id == "moon_2" || c.id == "moon_arm_2"; });
    copy.pin = "X4";
    model.plan = plan::evaluate(model.project, model.parts);
    int offered = 0;
    for (const auto& group : factsOf(model, Stage::Pins, "moon"))
        for (const auto& fact : group.facts)
            if (fact.path == "channels/moon/pin")
                for (const auto& [id, words] : fact.choices) {
                    EXPECT_EQ(id, "X" + std::to_string(offered++));
                    EXPECT_EQ(words.find(copy.name) != std::string::npos, id == "X4") << words;
                }
    EXPECT_EQ(offered, 6);
}
TEST(Opening, saysWhatIsTheMatterOnEveryStage) {
    auto model = demoModel();
    for (int s = 0; s < project::stageCount; ++s) {
        const auto opening = openingOf(model, static_cast<Stage>(s), "rain");
        EXPECT_FALSE(opening.sentence.isEmpty()) << s;
        EXPECT_FALSE(opening.hint.isEmpty()) << s;
        EXPECT_FALSE(opening.sentence.contains("!"));
    }
}

TEST(Working, namesItsSourceUnderEveryStep) {
    const auto model = demoModel();
    int steps = 0;
    for (int s = 0; s < project::stageCount; ++s)
        for (const auto& group : workingOf(model, static_cast<Stage>(s), "rain"))
            for (const auto& block : group.blocks)
                if (!block.lines.isEmpty() && block.tone != Tone::Plain) {
                    ++steps;
                    EXPECT_FALSE(block.source.isEmpty()) << block.meaning.toStdString();
                }
    EXPECT_GT(steps, 25);
}

TEST(Brief, listsWhatIsUnknownWithHowAndTheHazards) {
    const auto view = briefView(demoModel());
    ASSERT_FALSE(view.unknown.empty());
    for (const auto& line : view.unknown) EXPECT_FALSE(line.words.isEmpty());
    EXPECT_TRUE(std::any_of(view.hazards.begin(), view.hazards.end(),
                            [](const BriefLine& line) { return line.title == "Water near electricity"; }));
}

TEST(Routine, sentencesLinkTheirWordsToFacts) {
    auto model = demoModel();
    EXPECT_FALSE(routineHtml(model).contains("runs on")) << "an off-delay of nothing is not worth a phrase";
    model.project = *project::with(model.project, project::FactEdit{"channels/rain/off_delay", "0.4 s"});
    const QString html = routineHtml(model);
    for (const char* path :
         {"routine/cues/storm/input", "routine/cues/storm/times", "routine/cues/storm/guards/dry/throughout", "channels/rain/off_delay"})
        EXPECT_TRUE(html.contains(QString("fact:") + path)) << path;
    EXPECT_TRUE(html.contains("Never"));
}

TEST(Routine, namesCannotBreakTheSentences) {
    auto model = demoModel();
    model.project.channels.front().name = "<b>Rain</b><script>";
    EXPECT_FALSE(routineHtml(model).contains("<script>"));
}

// Contrast of 4.5:1 or more for every text and mark on its ground, in both themes, also as seen with
// deuteranopia and protanopia (Viénot, Brettel, Mollon 1999, linear-light matrices, from memory).
QColor seenWith(const QColor& colour, bool deutan) {
    const auto linear = [](double v) { return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4); };
    const auto gamma = [](double v) { return v <= 0.0031308 ? 12.92 * v : 1.055 * std::pow(v, 1 / 2.4) - 0.055; };
    const double r = linear(colour.redF()), g = linear(colour.greenF()), b = linear(colour.blueF());
    const double rg = deutan ? 0.29275 * r + 0.70725 * g : 0.11238 * r + 0.88762 * g;
    const double blue = deutan ? -0.02234 * r + 0.02234 * g + b : 0.00401 * r - 0.00401 * g + b;
    const auto clip = [](double v) { return static_cast<float>(std::clamp(v, 0.0, 1.0)); };
    return QColor::fromRgbF(clip(gamma(clip(rg))), clip(gamma(clip(rg))), clip(gamma(clip(blue))));
}
TEST(Theme, everyPairCanBeRead) {
    for (const auto* palette : {&lightPalette(), &darkPalette()}) {
        const auto& c = *palette;
        const std::pair<QColor, QColor> pairs[] = {
            {c.ink, c.paper},         {c.ink, c.card},      {c.soft, c.paper},    {c.soft, c.card},      {c.hinge, c.card},
            {c.hinge, c.paper},       {c.spark, c.card},    {c.time, c.card},     {c.time, c.paper},     {c.breaks, c.card},
            {c.breaks, c.paper},      {c.tight, c.card},    {c.tight, c.paper},   {c.stripInk, c.strip}, {c.stripSoft, c.strip},
            {c.stripBreaks, c.strip}, {c.ink, c.hingeTint}, {c.ink, c.sparkTint}, {c.ink, c.timeTint},   {c.card, c.ink}};
        for (const auto& [front, back] : pairs) {
            EXPECT_GE(contrast(front, back), 4.5) << front.name().toStdString() << " on " << back.name().toStdString();
            for (const bool deutan : {true, false})
                EXPECT_GE(contrast(seenWith(front, deutan), seenWith(back, deutan)), 4.0)
                    << front.name().toStdString() << " on " << back.name().toStdString() << " seen with "
                    << (deutan ? "deuteranopia" : "protanopia");
        }
    }
    EXPECT_NEAR(contrast(Qt::black, Qt::white), 21.0, 1e-9) << "WCAG 2: the largest there is";
}

TEST(Marks, differByShapeAndNotOnlyByColour) {
    const auto drawn = [](Verdict verdict) {
        QImage image(40, 40, QImage::Format_RGB32);
        image.fill(Qt::white);
        QPainter painter(&image);
        drawMark(painter, QRectF(0, 0, 40, 40), verdict);
        return image.convertToFormat(QImage::Format_Grayscale8);
    };
    const Verdict all[] = {Verdict::Holds, Verdict::Tight, Verdict::Breaks, Verdict::Unknown};
    for (const auto a : all)
        for (const auto b : all) {
            if (a == b) continue;
            int different = 0;
            const auto x = drawn(a), y = drawn(b);
            for (int i = 0; i < 1600; ++i)
                different += (qGray(x.pixel(i % 40, i / 40)) < 200) != (qGray(y.pixel(i % 40, i / 40)) < 200) ? 1 : 0;
            EXPECT_GT(different, 10) << word(a) << " against " << word(b);
        }
}

}  // namespace
}  // namespace hinge::app
