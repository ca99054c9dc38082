#pragma once
// A firmware that is not ours runs in a process of its own, which may compute and speak to us, and nothing else: no files, no network,
// no new processes, so much memory and so much time. Whatever it does to the emulator, the program goes on.
#include <memory>
#include "board/family.hpp"
#include "emulator/emulated_board.hpp"
#include "plant/firmware_seen.hpp"

namespace hinge::emulator {

/// What the guest is started with.
struct GuestOrder {
    std::string name;   ///< of the file, for sentences; its ending tells its kind: .hex or .elf
    std::string bytes;  ///< of the file
    board::BoardForm form = board::BoardForm::Uno16;
    Wiring wiring;
    std::vector<plant::PumpFigures> plants;
    bool marked = false;  ///< it was compiled here, with a mark at each loop()
};

/// That process, played like a board.
class Guest final : public plant::Played {
public:
    /// @error NotFound           the helper program is missing
    /// @error BadFormat, OutOfRange  the file is no firmware for this chip (see readHex, readElf)
    /// @error Failed             the emulator broke down under it
    static Result<std::unique_ptr<Guest>> start(const GuestOrder& order);
    ~Guest() override;
    void advance(double seconds) override;
    void write(std::string_view bytes) override;
    void setInput(int index, bool active) override;
    void setReading(int index, int reading) override;
    void setRate(int index, double rate) override;
    void cutPower() override;
    /// Ends it.
    /// @error Failed  it broke down, took too much, or did not come to an end in its time; Error::value says which, and when
    [[nodiscard]] Result<plant::FirmwareSeen> finish();

private:
    Guest() = default;
    [[nodiscard]] bool ask(const std::string& request);
    void broke(const std::string& how);
    int process_ = 0, to_ = -1, from_ = -1;
    double time_ = 0.0;
    std::string name_, answer_;
    std::optional<Error> trouble_;
};

/// The other side, in the helper program: serves one order from these streams, behind closed doors.
/// @return exit status
int serveGuest(int in, int out);

/// Where the helper program lies: beside this program, where it was installed, or where it was built.
[[nodiscard]] std::string guestProgram();

}  // namespace hinge::emulator
