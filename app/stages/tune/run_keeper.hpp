#pragma once
#include "journal/run_recorder.hpp"
#include "link/protocol.hpp"
#include "shell/document.hpp"

namespace hinge::app {

/// Writes the run log of a real board while it is on the link: runs.csv in the project's folder, a row for each time that an output was on.
/// A stand-in's runs are not the gadget's, and are not kept.
class RunKeeper {
public:
    explicit RunKeeper(Document* document) : document_{document} {}
    void take(const link::Telemetry& telemetry);
    /// The link has gone.
    void end();
    /// Why it cannot be written; empty while it can. Said once.
    [[nodiscard]] QString takeTrouble();

private:
    void write(const std::vector<journal::RunRow>& rows);
    void keepTrouble(const Error& error);
    Document* document_;
    std::optional<journal::RunRecorder> recorder_;
    std::string program_;  ///< names that the recorder was made for
    QString trouble_;
    bool told_ = false;
};

/// Where a project's own run log lies.
[[nodiscard]] QString runLogOf(const QString& folder);

}  // namespace hinge::app
