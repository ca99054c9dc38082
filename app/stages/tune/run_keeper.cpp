#include "stages/tune/run_keeper.hpp"
#include <QCoreApplication>
#include <QDateTime>

namespace hinge::app {
namespace {

// Seconds since 2000-01-01 as the desk's clock on the wall shows them.
double localNow() {
    const auto now = QDateTime::currentDateTime();
    return static_cast<double>(QDate(2000, 1, 1).daysTo(now.date())) * 86'400.0 + now.time().msecsSinceStartOfDay() * 1e-3;
}

}  // namespace

QString runLogOf(const QString& folder) {
    return folder + "/runs.csv";
}

void RunKeeper::take(const link::Telemetry& telemetry) {
    const auto& program = document_->model().plan.program;
    if (!program || document_->folder().isEmpty() || telemetry.levels.size() < program->outputs.size()) return;
    std::vector<std::string> outputs, cues;
    std::string names;
    for (const auto& output : program->outputs) outputs.push_back(output.name), names += output.name + "\n";
    for (const auto& cue : program->cues) cues.push_back(cue.name), names += cue.name + "\n";
    if (!recorder_ || names != program_) {
        end();
        recorder_.emplace(outputs, cues);
        program_ = names;
    }
    journal::RunSight sight;
    sight.time = telemetry.time_ms * 1e-3;
    sight.faulted = telemetry.faulted;
    // What is placed counts as on while it is away from its start.
    for (std::size_t o = 0; o < program->outputs.size(); ++o)
        sight.on.push_back(program->outputs[o].kind == routine::OutputKind::Switched ? telemetry.levels[o] > 0
                                                                                     : telemetry.levels[o] != program->outputs[o].start);
    for (std::size_t k = 0; k < program->cues.size(); ++k) sight.cues.push_back(k < 8 && (telemetry.cues >> k & 1) != 0);
    write(recorder_->take(sight, localNow()));
}

void RunKeeper::end() {
    if (recorder_) write(recorder_->end());
    recorder_.reset();
}

QString RunKeeper::takeTrouble() {
    if (told_ || trouble_.isEmpty()) return {};
    told_ = true;
    return trouble_;
}

void RunKeeper::write(const std::vector<journal::RunRow>& rows) {
    if (rows.empty() || document_->folder().isEmpty()) return;
    const auto folder = files::Folder::open(document_->folder().toStdString());
    if (!folder) return keepTrouble(folder.error());
    // All in one piece behind what is there: a crash costs these rows at most.
    const auto stamp = folder->stamp("runs.csv");
    std::string text = !stamp || stamp->size == 0 ? journal::runLogHead() : std::string{};
    for (const auto& row : rows) text += journal::runLogLine(row);
    if (const auto written = folder->append("runs.csv", text); !written) keepTrouble(written.error());
}

void RunKeeper::keepTrouble(const Error& error) {
    trouble_ =
        QCoreApplication::translate("RunKeeper", "The run log cannot be written: %1. What runs meanwhile is not kept.").arg(words(error));
}

}  // namespace hinge::app
