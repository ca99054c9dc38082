#pragma once
#include <string>
#include <tl/expected.hpp>

namespace hinge {
inline namespace quantity {

/// Why a request could not be answered.
enum class ErrorCode {
    NotANumber,   ///< text that is no finite decimal number
    WrongUnit,    ///< a unit that does not measure this kind of quantity
    OutOfRange,   ///< a number outside the accepted range
    Missing,      ///< a required input, or one of a group, is not given
    Conflict,     ///< given twice, or more than one of a group
    Unknown,      ///< a name that nothing here answers to
    BadFormat,    ///< a file or list that does not have the promised shape
    NewerFormat,  ///< a project file written by a later version
    NotFound,     ///< a file, tool or port is missing
    NotPlain,     ///< a link, pipe, device or folder where a plain file is wanted
    NotReadable,  ///< it is there, and cannot be read
    NotWritable,  ///< writing failed; what was there before is still whole
    NotDriven,    ///< the sketch cannot command it as it is planned; value says why
    Failed,       ///< what was started broke down; value says how
    Cancelled,    ///< the caller asked to stop
};

/// An error as a value: which field, what stood there, what is accepted.
/// The sentence for a screen is made by whoever shows it.
struct Error {
    ErrorCode code{};
    std::string field;     ///< the input, path or file concerned
    std::string value;     ///< what was given, as given
    std::string accepted;  ///< what would be accepted, in plain words
    friend bool operator==(const Error&, const Error&) = default;
};

template <class T>
using Result = tl::expected<T, Error>;

[[nodiscard]] inline tl::unexpected<Error> fail(ErrorCode code, std::string field, std::string value, std::string accepted) {
    return tl::unexpected<Error>(Error{code, std::move(field), std::move(value), std::move(accepted)});
}

/// One line: "field: 'value' is not accepted; accepted".
[[nodiscard]] std::string sentence(const Error& error);

}  // namespace quantity
}  // namespace hinge
