// Cases of the rules of Feed.
#include "core/rule_cases/case.hpp"
#include "support/expanders.hpp"

namespace hinge::plan::ruled {
// One table: a row a case.
std::vector<Case> ofFeed() {
    return {
        {"expander-rails",
         S::Feed,
         Stage,
         {},
         {},
         "one expander has one supply for its servos",
         [](Gadget& g, bool trips) {
             g.project = project::duplicateChannel(test::onExpander("servo_expander_i2c"), "it");
             auto& copy = g.project.channels[1];
             copy.pin = "X1";
             copy.calibration = g.project.channels[0].calibration;
             if (trips) copy.rail = "logic";
             strong(g);
         }},
        {"pin-feeds",
         S::Feed,
         Stage,
         {{"channels/lamps/actuator", "led_red_5mm"},
          {"channels/lamps/demand/power", ""},
          {"channels/lamps/drive/part", "straight_from_pin"}},
         led("led_red_5mm"),
         "a pin draws from the board's rail"},
        {"mover-on-logic-rail", S::Feed, Rain, {{"channels/rain/rail", "logic"}}, {}, "a pump on the board's own rail"},
        {"no-common-ground",
         S::Feed,
         Rain,
         {},
         {},
         "two sources, their grounds apart",
         [](Gadget& g, bool trips) {
             auto other = g.project.sources.front();
             other.id = "second", other.name = "second adapter", other.ground_joined = !trips;
             g.project.sources.push_back(other);
             for (auto& rail : g.project.rails)
                 if (rail.id == "movers") rail.from = "second";
         }},
        {"wire-hot",
         S::Feed,
         Stage,
         {{"rails/movers/wire_area", "0.03 mm^2"}, {"rails/movers/wire_length", "0.1 m"}},
         {},
         "PVC at 40 °C, IEC 60204-1"},
        {"wire-drop",
         S::Feed,
         Rain,
         {{"rails/movers/wire_length", "60 m"}},
         {{"rails/movers/wire_length", "10 m"}},
         "3 % of 12 V at the start current"},
        {"wire-unprotected", S::Feed, Rain, {{"rails/movers/fuse", "10 A"}}, {}, "a fuse of 10 A before 0.5 mm²"},
        {"fuse-missing", S::Feed, Rain, {{"rails/movers/fuse", ""}}, {}, "a jam needs a fuse"},
        {"fuse-small", S::Feed, Rain, {{"rails/movers/fuse", "0.31 A"}}, {{"rails/movers/fuse", "0.32 A"}}, "239 mA/0.75 is 319 mA"},
        {"fuse-large",
         S::Feed,
         Rain,
         {{"rails/movers/fuse", "1 A"}},
         {{"rails/movers/fuse", "0.46 A"}},
         "a jam draws 695 mA; 1.5·0.46 A are 690 mA (IEC 60127-2, from memory)"},
        {"fuse-unsure", S::Feed, Rain, {}, {{"rails/movers/fuse", "0.32 A"}}, "0.4 A is only sure to blow above 840 mA"},
        {"fuse-idle",
         S::Feed,
         Rain,
         {{"rails/movers/fuse", "0.32 A"}, {"sources/adapter/current", "0.6 A"}},
         {},
         "the adapter folds back first"},
        {"rail-loop", S::Feed, Rain, {{"rails/movers/from", "movers"}}, {}, "a rail that feeds itself"},
        {"rail-unfed",
         S::Feed,
         Rain,
         {},
         {},
         "nothing feeds it",
         [](Gadget& g, bool trips) {
             if (trips) g.project.rails.front().from = "nowhere";
         }},
        {"rail-over",
         S::Feed,
         Rain,
         {{"rails/logic/voltage", "5.6 V"}},
         {{"rails/logic/voltage", "5.5 V"}},
         "the board takes 5 V and a tenth"},
        {"rail-sag",
         S::Feed,
         Stage,
         {{"rails/movers/wire_length", "80 m"}},
         {{"rails/movers/wire_length", "2 m"}},
         "below six tenths of its volts"},
        {"brown-out", S::Feed, Rain, {{"rails/logic/voltage", "2.6 V"}}, {{"rails/logic/voltage", "4.2 V"}}, "it resets below 2.7 V"},
        {"out-of-guaranteed-range",
         S::Feed,
         Rain,
         {{"rails/logic/voltage", "3.7 V"}},
         {{"rails/logic/voltage", "3.8 V"}},
         "3.78 V at 16 MHz, data sheet speed grades"},
        {"logic-follows",
         S::Feed,
         Rain,
         {{"board/form", "atmega328p-8mhz"}},
         {{"board/form", "atmega328p-8mhz"}, {"rails/logic/voltage", "3.3 V"}},
         "a 3.3 V board on 5 V: its pins give 5 V"},
        {"regulator-hot",
         S::Feed,
         Rain,
         {{"rails/logic/theta_ja", "500 K/W"}},
         {{"rails/logic/theta_ja", "310 K/W"}},
         "0.315 W: 100 K at 317 K/W"},
        {"regulator-dropout",
         S::Feed,
         Rain,
         {{"sources/adapter/voltage", "6 V"}},
         {{"sources/adapter/voltage", "6.2 V"}},
         "5 V and 1.1 V of drop-out"},
        {"no-flyback-path", S::Feed, Rain, {{"channels/rain/drive/flyback_diode", "no"}}, {}, "an inductive load needs a path"},
        {"capacitor-stored",
         S::Feed,
         Rain,
         {{"rails/movers/bulk", "1000 uF"}, {"rails/movers/bulk_rating", "25 V"}},
         {{"rails/movers/bulk", "900 uF"}, {"rails/movers/bulk_rating", "25 V"}},
         "a thousand microfarads stay charged"},
        {"capacitor-voltage",
         S::Feed,
         Rain,
         {{"rails/movers/bulk", "100 uF"}, {"rails/movers/bulk_rating", "10 V"}},
         {{"rails/movers/bulk", "100 uF"}, {"rails/movers/bulk_rating", "16 V"}},
         "12 V on 10 V"},
        {"source-over",
         S::Feed,
         Rain,
         {{"sources/adapter/current", "0.4 A"}},
         {{"sources/adapter/current", "0.7 A"}},
         "506 mA against 0.8 of it"},
        {"usb-budget", S::Feed, Rain, {{"sources/adapter/kind", "usb-port"}}, {}, "USB 2.0: 500 mA"},
        {"coincidence-bounded",
         S::Feed,
         Stage,
         {},
         {},
         "more cues than can be looked at in all their overlaps",
         [](Gadget& g, bool trips) {
             if (!trips) return;
             g.project.routine = {};
             auto& cues = g.project.routine.cues;
             g.project.board.form = board::BoardForm::Mega16;
             const auto lamps = g.project.channels.back();
             std::mt19937 dice(1);
             for (int i = 0; i < 16; ++i) {
                 auto more = lamps;
                 more.id = "lamp" + std::to_string(i), more.name = "Lamp " + std::to_string(i), more.pin.clear();
                 g.project.channels.push_back(more);
             }
             for (int i = 0; i < 40; ++i) {
                 routine::Cue cue;
                 cue.id = "cue" + std::to_string(i), cue.name = "Cue " + std::to_string(i), cue.input = "scene";
                 for (int k = 0; k < 4; ++k) {
                     routine::Move move{"m" + std::to_string(k), routine::Action::On, "lamp" + std::to_string(dice() % 16), std::nullopt};
                     cue.moves.push_back(move);
                 }
                 cue.moves.push_back({"w", routine::Action::Wait, "", of<Duration>(1.0)});
                 cues.push_back(cue);
             }
         }},
        {"lithium-present", S::Feed, RiderOnCells, {}, {{"sources/bench/kind", "bench-supply"}}, "lithium cells"},
        {"cells-unprotected",
         S::Feed,
         RiderOnCells,
         {},
         {},
         "no protection board",
         [](Gadget& g, bool trips) {
             for (auto& source : g.project.sources) source.protection_board = !trips;
         }},
        {"battery-empty-voltage",
         S::Feed,
         RiderOnCells,
         {},
         {},
         "its volts are too low while charge is left",
         [](Gadget& g, bool trips) {
             for (auto& source : g.project.sources) source.series = of<Count>(trips ? 1.0 : 3.0);
         }},
        {"battery-peak",
         S::Feed,
         RiderOnCells,
         {},
         {},
         "beyond twice their capacity in an hour",
         [](Gadget& g, bool trips) {
             for (auto& source : g.project.sources) source.capacity = of<Charge>(trips ? 0.05 * 3600.0 : 3.0 * 3600.0);
         }},
        {"idle-drain", S::Feed, Rain, bank("100 mA"), bank("40 mA"), "at rest the board draws 45 mA"},
    };
}

}  // namespace hinge::plan::ruled
