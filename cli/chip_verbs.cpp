#include "cli/chip_verbs.hpp"
#include <fmt/format.h>
#include <iostream>
#include "cli/exit_status.hpp"
#include "cli/json.hpp"
#include "emulator/build.hpp"
#include "emulator/own_firmware.hpp"
#include "emulator/upload.hpp"
#include "firmware/habits.hpp"
#include "plan/behaviour.hpp"
#include "plan/firmware_model.hpp"
#include "proof/capture_check.hpp"
#include "proof/own_sketch.hpp"
#include "quantity/text.hpp"
#include "simulation/happen.hpp"
#include "store/document.hpp"

namespace hinge::cli {

Result<std::vector<simulation::Event>> scriptOf(const std::string& file) {
    if (file.empty()) return std::vector<simulation::Event>{};
    const auto text = files::readWhole(file);
    if (!text) return tl::unexpected(text.error());
    return simulation::parseEvents(*text);
}

int examine(const project::Project& project, const project::Parts& parts, const plan::Plan& plan, const std::string& firmware,
            const std::string& length, const std::string& events, bool json) {
    const auto time = parseQuantity(Kind::Duration, length);
    if (!time || *time <= 0.0 || *time > 3600.0) return report({ErrorCode::OutOfRange, "--for", length, "a time such as 5s, up to 1 h"});
    if (!plan.program) return report(plan.program_error.value_or(Error{ErrorCode::Missing, "routine", "", "a routine that compiles"}));
    const auto script = scriptOf(events);
    if (!script) return report(script.error());
    std::optional<Error> wrong;
    const auto run = emulator::runOwn(firmware, project, parts, plan, emulator::usualCache(),
                                      [&](plant::Played& board) { wrong = simulation::playOn(board, *plan.program, *script, *time); });
    if (!run) return report(run.error());
    if (wrong) return report(*wrong);
    std::vector<firmware::Habit> habits;
    if (firmware.ends_with(".ino") || firmware.ends_with(".cpp"))
        if (const auto source = files::readWhole(firmware)) habits = firmware::habitsOf(*source);
    if (!run->built) {
        std::cerr << "it does not compile:\n" << run->log << '\n';
        return BadRequest;
    }
    const auto facts = proof::ownFacts(run->seen, project, plan, simulation::startsOf(*plan.program, *script, run->seen.length));
    if (json) {
        Json answer = Json::object();
        answer["flash_B"] = run->flash == 0 ? Json(nullptr) : Json(run->flash);
        answer["ram_B"] = run->flash == 0 ? Json(nullptr) : Json(run->ram);
        answer["longest_loop_s"] = run->seen.loop_known ? Json(run->seen.longest_loop) : Json(nullptr);
        answer["facts"] = Json::array();
        for (const auto& fact : facts)
            answer["facts"].push_back({{"channel", fact.channel},
                                       {"what", fact.what},
                                       {"is", fact.is},
                                       {"should", fact.should},
                                       {"verdict", word(fact.verdict)},
                                       {"text", fact.text}});
        answer["habits"] = Json::array();
        for (const auto& habit : habits)
            answer["habits"].push_back({{"id", habit.id}, {"line", habit.line}, {"text", habit.text}, {"why", habit.why}});
        std::cout << answer.dump(2, ' ', false, Json::error_handler_t::replace) << '\n';
        return Done;
    }
    for (const auto& fact : facts)
        std::cout << fmt::format("{:<9} {}: {}{}{}\n", word(fact.verdict), fact.what, fact.is,
                                 fact.should.empty() ? "" : ", planned " + fact.should, fact.text.empty() ? "" : ". " + fact.text);
    for (const auto& habit : habits) std::cout << fmt::format("line {}: {}\n  {}\n", habit.line, habit.text, habit.why);
    return Done;
}

int uploadSketch(const project::Project& project, const plan::Plan& plan, const std::string& port, bool made_safe) {
    const auto sketch = plan::sketchOf(project, plan);
    if (!sketch) return report(sketch.error());
    const auto built = emulator::build(*sketch, board::family(project.board.form), emulator::usualCache());
    if (!built) return report(built.error());
    if (!built->ok) return report({ErrorCode::BadFormat, sketch->name, built->log.substr(0, 300), "a sketch that compiles"});
    std::cout << fmt::format("{}, {}, {} B of flash, to {}\n", project.brief.name, sketch->name, built->flash, port);
    const auto done = emulator::upload({built->elf, project.board.form, port, plan::moves(project), made_safe});
    if (!done) return report(done.error());
    if (!done->ok) {
        std::cerr << done->log
                  << (done->signature.empty() ? "no answer on " + port + ": is it the board's port, and is no other program on it?\n" : "");
        return NotHere;
    }
    std::cout << fmt::format("signature {}; written and read back\n", done->signature);
    return Done;
}

}  // namespace hinge::cli
