// Cases of the rules of Need.
#include "core/rule_cases/case.hpp"
#include "support/cooled.hpp"
#include "support/demo.hpp"

namespace hinge::plan::ruled {

// One table: a row a case.
std::vector<Case> ofNeed() {
    return {
        {"demand-refused",
         S::Need,
         Rain,
         {},
         {},
         "no tube without a bore",
         [](Gadget& g, bool trips) {
             if (trips) std::get<project::PumpDemand>(g.project.channels.front().demand).tube_diameter = of<Length>(0.0);
         }},
        {"stroke-over-horn",
         S::Need,
         Stage,
         {},
         {},
         "a horn of 20 mm reaches 40 mm from end to end",
         [](Gadget& g, bool trips) {
             project::PressDemand press;
             press.way = project::PressWay::Horn, press.force = of<Force>(2.0), press.stroke = of<Length>(trips ? 0.041 : 0.039);
             press.horn = of<Length>(0.020), press.time = of<Duration>(1.0);
             g.project.channels[2].demand = press;
         }},
        {"dose-over-time",
         S::Need,
         Rain,
         {{"channels/rain/demand/volume", "80 mL"}},
         {{"channels/rain/demand/volume", "60 mL"}},
         "4 s at 1.06 L/min are 71 mL"},
        {"dose-near-limit",
         S::Need,
         Rain,
         {{"channels/rain/demand/volume", "68 mL"}},
         {{"channels/rain/demand/volume", "60 mL"}},
         "nine tenths of 71 mL"},
        {"pinch-point",
         S::Need,
         Stage,
         {},
         {{"channels/curtain/name", "Curtain"}},
         "what moves pinches",
         [](Gadget& g, bool trips) {
             if (!trips) g.project = test::demoProject();
         }},
        {"mains-wet", S::Need, Box, {{"brief/place", "wet"}}, {{"brief/place", "indoors"}}, "a heater on the mains near water"},
        {"hot-part",
         S::Need,
         Box,
         {},
         {},
         "a heater gets hot",
         [](Gadget& g, bool trips) {
             if (!trips) g.project = test::demoProject();
         }},
        {"heater-cutout", S::Need, Box, {{"channels/heater/demand/cutout", "no"}}, {}, "on the mains a heater without a cut-out is a stop"},
        {"hot-side-unwatched",
         S::Need,
         Stage,
         {},
         {},
         "the fan on a plate's heat-sink may stop",
         [](Gadget& g, bool trips) {
             g.project = project::addInput(test::cooled(), project::InputKind::Level, "hot side");
             if (!trips) g.project = project::addInterlock(g.project, "it", g.project.inputs.back().id);
         }},
        {"water-near",
         S::Need,
         Rain,
         {},
         {},
         "a pump brings water",
         [](Gadget& g, bool trips) {
             if (!trips) g.project = test::exampleProject("tightrope-rider");
         }},
        {"mains-present",
         S::Match,
         Box,
         {},
         {},
         "a mat on 230 V",
         [](Gadget& g, bool trips) {
             if (!trips) g.project = test::demoProject();
         }},
        {"mains-present",
         S::Need,
         Stage,
         {{"channels/lamps/demand/feeding", "mains"}, {"channels/lamps/actuator", ""}},
         {},
         "said also before a part is chosen"},
        {"mains-present", S::Feed, Rain, {{"sources/adapter/kind", "transformer"}}, {}, "a transformer has mains on one side"},
    };
}

}  // namespace hinge::plan::ruled
