#pragma once
// One description of every field of a project: its name in the file, its words on the screen, its
// range and how to measure it. The file, the schema, the facts on the screen and the edits by path
// are all visitors of it.
#include <limits>
#include <type_traits>
#include "project/project.hpp"
#include "working/member.hpp"

namespace hinge::project {

struct Meta {
    const char* label = "";
    const char* hint = "";  ///< how to measure or decide it
    Stage stage = Stage::Need;
    double least = 0.0;
    bool least_itself = false;
    double most = std::numeric_limits<double>::infinity();
};
inline constexpr double any_below = -std::numeric_limits<double>::infinity();

class Visitor;

/// Groups of fields, one or a list of them, without their type.
struct Branch {
    bool list = false;
    bool demand = false;                                    ///< its fields depend on the channel's kind
    std::size_t most = 0;                                   ///< entries a list may have
    void (*walk)(Visitor& visitor, void* group) = nullptr;  ///< the group, or one entry of the list
    void (*walk_fresh)(Visitor& visitor) = nullptr;         ///< one with every field at its default
    std::size_t (*size)(const void* list_at) = nullptr;     ///< lists only, from here on
    void* (*entry)(void* list_at, std::size_t index) = nullptr;
    void* (*add)(void* list_at) = nullptr;  ///< a fresh entry at the end
    void (*clear)(void* list_at) = nullptr;
    const std::string& (*id)(const void* entry_at) = nullptr;
};
/// One field of a description: a leaf, or a branch with more below it.
struct Field {
    void* at = nullptr;
    Member member;                   ///< a leaf: how it is read and written
    const Branch* branch = nullptr;  ///< else
};

/// Whoever wants every field: the file's reader and writer, the schema, the facts on the screen.
class Visitor {
public:
    virtual ~Visitor() = default;
    virtual void visit(const char* name, const Field& field, const Meta& meta) = 0;
    template <class T>
    void operator()(const char* name, T& member, const Meta& meta);

protected:
    Visitor() = default;
    Visitor(const Visitor&) = default;
    Visitor& operator=(const Visitor&) = default;
};

/// Visits every field of the whole, in the file's order.
void describe(Visitor& v, Project& whole);
void describe(Visitor& v, Demand& whole);

}  // namespace hinge::project
