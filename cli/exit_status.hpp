#pragma once

namespace hinge::cli {

/// The exit statuses of every verb.
enum ExitStatus : int {
    Done = 0,
    DoneAndBreaks = 1,  ///< something breaks (with --strict), or an interlock is violated
    BadRequest = 2,     ///< one line on standard error: the input, the value, what is accepted
    NotHere = 3,        ///< a file, tool or port is missing
};

}  // namespace hinge::cli
