// No guard: the names of a project's choices, until #undef HINGE_NAMES.
// HINGE_NAMES(Stage, N{T::Need, "need", "Need"}, …): as they stand in a file, and as a person reads them.
#define HINGE_NAMES(type, ...)                        \
    template <>                                       \
    struct hinge::Names<hinge::project::type> {       \
        using T = hinge::project::type;               \
        using N = hinge::Name<hinge::project::type>;  \
        static constexpr std::array all{__VA_ARGS__}; \
    }
