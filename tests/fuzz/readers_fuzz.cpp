// Whatever the bytes: a value or a refusal, never a crash, a hang or an accepted value that does not read back.
#include <cstdint>
#include <cstdlib>
#include <string>
#include "catalogue/catalogue.hpp"
#include "control/step_fit.hpp"
#include "link/protocol.hpp"
#include "plan/workings.hpp"
#include "quantity/text.hpp"
#include "simulation/simulate.hpp"
#include "store/document.hpp"
#include "timing/time_of_day.hpp"

using namespace hinge;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    if (size == 0) return 0;
    const std::string text(reinterpret_cast<const char*>(data) + 1, size - 1);
    switch (data[0] % 8) {
        case 0: {
            const auto document = store::fromText(text, "fuzz");
            if (document && !store::fromText(store::toText(*document), "fuzz"))
                std::abort();  // what is accepted must be saved and opened again
            break;
        }
        case 1: (void)catalogue::read("pumps", text, "fuzz"); break;
        case 2: (void)catalogue::read("drivers", text, "fuzz"); break;
        case 3: {
            link::Decoder decoder;
            for (std::size_t at = 0; at < text.size(); at += 7) (void)decoder.feed(std::string_view{text}.substr(at, 7));
            break;
        }
        case 4:
            for (int kind = 0; kind < kindCount; ++kind) (void)parseQuantity(static_cast<Kind>(kind), text);
            break;
        case 5: (void)timing::parseTimeOfDay(text); break;
        case 6: (void)simulation::parseEvents(text); break;
        case 7:
            if (const auto rows = control::parseStepRows(text)) (void)control::fitStep(*rows);
            break;
    }
    return 0;
}
