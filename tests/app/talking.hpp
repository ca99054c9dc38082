#pragma once
// A window that talks to a board.
#include "app/fixture.hpp"
#include "stages/tune/tune_page.hpp"

namespace hinge::app::test {

class TalkingTest : public WindowTest {
protected:
    LinkSession& session() { return window_->tune()->session(); }
    /// Waits on the event loop until something is true; the stand-in runs in real time.
    template <class Condition>
    static bool until(Condition condition, int milliseconds = 20000) {
        return QTest::qWaitFor(condition, milliseconds);
    }
};

}  // namespace hinge::app::test
