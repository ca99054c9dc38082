#include "store/json.hpp"
#include <algorithm>
#include <array>
#include <set>
#include "project/describe.hpp"
#include "quantity/text.hpp"
#include "quantity/units.hpp"
#include "timing/time_of_day.hpp"
#include "working/form.hpp"

namespace hinge::store {
namespace {

using project::Branch;
using project::describe;
using project::Field;
using project::Meta;
using project::Visitor;

constexpr std::size_t longest_text = 20000;

class Writer final : public Visitor {
public:
    explicit Writer(Json& out) : out_{out} {}
    void visit(const char* name, const Field& field, const Meta&) override { out_[name] = valueOf(field); }

private:
    static Json group(const Branch& branch, void* at) {
        Json object = Json::object();
        Writer inner{object};
        branch.walk(inner, at);
        return object;
    }
    static Json valueOf(const Field& field) {
        if (const auto* branch = field.branch) {
            if (!branch->list) return group(*branch, field.at);
            Json list = Json::array();
            for (std::size_t i = 0; i < branch->size(field.at); ++i) list.push_back(group(*branch, branch->entry(field.at, i)));
            return list;
        }
        const auto& member = field.member;
        double value = 0.0;
        switch (member.holds) {
            case Member::Holds::Quantity:
                if (!member.take(field.at, value)) return nullptr;
                // Plain numbers stay numbers; everything else carries its unit.
                if (siUnit(member.kind).empty()) return value;
                return exactText(member.kind, value);
            case Member::Holds::Truth: return member.take(field.at, value) ? Json(value != 0.0) : Json(nullptr);
            case Member::Holds::Name: {
                const auto id = member.take_name(field.at);
                return id.empty() ? Json(nullptr) : Json(id);
            }
            default: {
                const auto text = member.take_text(field.at);
                return text ? Json(*text) : Json(nullptr);
            }
        }
    }
    Json& out_;
};

std::string shown(const Json& json) {
    std::string text =
        json.is_structured() ? (json.is_array() ? "a list" : "an object") : json.dump(-1, ' ', false, Json::error_handler_t::replace);
    return text.size() > 60 ? text.substr(0, 57) + "…" : text;
}

class Reader final : public Visitor {
public:
    Reader(const Json& in, std::string prefix, std::optional<Error>& error) : in_{in}, prefix_{std::move(prefix)}, error_{error} {}

    void visit(const char* name, const Field& field, const Meta& meta) override {
        if (error_) return;
        const auto found = in_.find(name);
        if (found == in_.end()) return;
        const std::string path = prefix_.empty() ? name : prefix_ + "/" + name;
        if (field.branch == nullptr) leaf(*found, path, field, meta);
        else if (field.branch->list) list(*found, path, field);
        else group(*found, path, *field.branch, field.at);
    }

private:
    void refuse(const std::string& path, const Json& json, std::string accepted) {
        error_ = Error{ErrorCode::BadFormat, path, shown(json), std::move(accepted)};
    }
    void group(const Json& json, const std::string& path, const Branch& branch, void* at) {
        if (!json.is_object()) return refuse(path, json, "an object");
        Reader inner{json, path, error_};
        branch.walk(inner, at);
    }
    void list(const Json& json, const std::string& path, const Field& field) {
        const auto& branch = *field.branch;
        if (!json.is_array()) return refuse(path, json, "a list");
        if (json.size() > branch.most) return refuse(path, json, "a list of at most " + std::to_string(branch.most));
        branch.clear(field.at);
        std::set<std::string> ids;
        for (const auto& item : json) {
            const std::string here = path + "/" + std::to_string(branch.size(field.at));
            void* const entry = branch.add(field.at);
            group(item, here, branch, entry);
            if (error_) return;
            const auto& id = branch.id(entry);
            if (id.empty()) return refuse(here + "/id", item, "an id of its own");
            if (id.size() > 80 || id.find_first_of("/\"\\\n") != std::string::npos)
                return refuse(here + "/id", Json(id), "letters, digits and _");
            if (!ids.insert(id).second) {
                error_ = Error{ErrorCode::Conflict, here + "/id", id, "each id once in its list"};
                return;
            }
        }
    }
    void leaf(const Json& json, const std::string& path, const Field& field, const Meta& meta) {
        const auto& member = field.member;
        if (member.optional && json.is_null()) return member.reset(field.at);
        switch (member.holds) {
            case Member::Holds::Quantity: return quantity(json, path, field, meta);
            case Member::Holds::Name:
                if (!json.is_string() || !member.put_name(field.at, json.get_ref<const std::string&>()))
                    refuse(path, json, "one of " + listed(member.choices()));
                return;
            case Member::Holds::Truth:
                if (!json.is_boolean()) return refuse(path, json, "true or false");
                return member.put(field.at, json.get<bool>() ? 1.0 : 0.0);
            default: return text(json, path, field);
        }
    }
    void quantity(const Json& json, const std::string& path, const Field& field, const Meta& meta) {
        const Kind kind = field.member.kind;
        double value = 0.0;
        if (json.is_number()) {
            value = json.get<double>();
            if (!std::isfinite(value)) return refuse(path, json, "a finite number");
        } else if (json.is_string()) {
            const auto parsed = parseQuantity(kind, json.get_ref<const std::string&>());
            if (!parsed) {
                error_ = parsed.error();
                error_->field = path;
                return;
            }
            value = *parsed;
        } else {
            return refuse(path, json, "a quantity such as \"0.45 m\"");
        }
        if (value < meta.least || (value == meta.least && !meta.least_itself) || value > meta.most) {
            error_ = Error{ErrorCode::OutOfRange, path, shown(json), inWords({meta.least, meta.least_itself, meta.most}, kind)};
            return;
        }
        field.member.put(field.at, value);
    }
    void text(const Json& json, const std::string& path, const Field& field) {
        if (!json.is_string()) return refuse(path, json, "a text");
        const auto& given = json.get_ref<const std::string&>();
        if (given.size() > longest_text) return refuse(path, json, "at most 20000 characters");
        if (path.ends_with("/times") && !given.empty()) {
            const auto times = timing::parseTimesOfDay(given);
            if (!times) {
                error_ = times.error();
                error_->field = path;
            }
        }
        field.member.put_text(field.at, given);
    }

    const Json& in_;
    std::string prefix_;
    std::optional<Error>& error_;
};

class SchemaWriter final : public Visitor {
public:
    explicit SchemaWriter(Json& properties) : properties_{properties} {}
    void visit(const char* name, const Field& field, const Meta&) override { properties_[name] = schemaOf(field); }

private:
    static Json object(Json properties) {
        Json schema = Json::object();
        schema["type"] = "object";
        schema["properties"] = std::move(properties);
        return schema;
    }
    static Json group(const Branch& branch) {
        Json inner = Json::object();
        SchemaWriter writer{inner};
        branch.walk_fresh(writer);
        return object(std::move(inner));
    }
    static Json schemaOf(const Field& field) {
        Json schema = Json::object();
        if (const auto* branch = field.branch) {
            if (branch->list) {
                schema["type"] = "array";
                schema["maxItems"] = branch->most;
                schema["items"] = group(*branch);
                schema["items"]["required"] = Json::array({"id"});
                return schema;
            }
            if (!branch->demand) return group(*branch);
            // One shape for each kind of channel.
            schema["anyOf"] = Json::array();
            for (const auto& kind : Names<project::ChannelKind>::all) {
                Json inner = Json::object();
                SchemaWriter writer{inner};
                auto sample = project::freshDemand(kind.value);
                describe(writer, sample);
                schema["anyOf"].push_back(object(std::move(inner)));
            }
            return schema;
        }
        const Kind kind = field.member.kind;
        switch (field.member.holds) {
            case Member::Holds::Quantity:
                schema["type"] = Json::array({"string", "number"});
                schema["description"] =
                    std::string{kindName(kind)} +
                    (siUnit(kind).empty() ? "" : ", such as \"1 " + std::string{siUnit(kind)} + "\"; a bare number is SI");
                break;
            case Member::Holds::Name:
                schema["enum"] = Json::array();
                for (const auto& choice : field.member.choices()) schema["enum"].push_back(choice.id);
                break;
            case Member::Holds::Truth: schema["type"] = "boolean"; break;
            default: schema["type"] = "string"; schema["maxLength"] = longest_text;
        }
        if (!field.member.optional) return schema;
        Json either = Json::object();
        either["anyOf"] = Json::array({Json{{"type", "null"}}, schema});
        return either;
    }
    Json& properties_;
};

}  // namespace

Json toJson(const project::Project& original) {
    project::Project copy = original;
    Json json = Json::object();
    json["format"] = project::format;
    Writer writer{json};
    describe(writer, copy);
    return json;
}

Result<project::Project> fromJson(const Json& json) {
    project::Project project;
    std::optional<Error> error;
    if (!json.is_object()) return fail(ErrorCode::BadFormat, "project", shown(json), "an object with a \"format\"");
    Reader reader{json, "", error};
    describe(reader, project);
    if (error) return tl::unexpected(*error);
    return project;
}

Json projectSchema() {
    Json schema = Json::object();
    schema["$schema"] = "http://json-schema.org/draft-07/schema#";
    schema["title"] = "Hinge Spark project, format " + std::to_string(project::format);
    schema["type"] = "object";
    schema["required"] = Json::array({"format", "brief"});
    Json properties = Json::object();
    properties["format"] = Json{{"type", "integer"}, {"minimum", 1}};
    SchemaWriter writer{properties};
    project::Project sample;
    describe(writer, sample);
    schema["properties"] = properties;
    return schema;
}

Result<Json> parseJson(const std::string& text, const std::string& field) {
    constexpr std::size_t most_bytes = 32u << 20;
    constexpr int deepest = 40;
    if (text.empty()) return fail(ErrorCode::BadFormat, field, "", "the file is empty");
    if (text.size() > most_bytes) return fail(ErrorCode::BadFormat, field, std::to_string(text.size()) + " bytes", "at most 32 MB");
    constexpr int most_fields = 256;  // one object is looked through from its first field on: what ours have is far below
    int depth = 0;
    std::array<int, deepest + 1> fields{};
    bool in_text = false;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (in_text) {
            if (c == '\\') ++i;
            else if (c == '"') in_text = false;
        } else if (c == '"') {
            in_text = true;
        } else if (c == '{' || c == '[') {
            if (++depth > deepest) return fail(ErrorCode::BadFormat, field, "", "at most 40 levels of lists and objects");
            fields[static_cast<std::size_t>(std::max(depth, 0))] = 0;
        } else if (c == '}' || c == ']') {
            --depth;
        } else if (c == ':') {
            if (++fields[static_cast<std::size_t>(std::max(depth, 0))] > most_fields)
                return fail(ErrorCode::BadFormat, field, "", "at most 256 fields in one object");
        }
    }
    try {
        return Json::parse(text);
    } catch (const Json::parse_error& error) {
        const auto line = 1 + std::count(text.begin(), text.begin() + static_cast<std::ptrdiff_t>(std::min(error.byte, text.size())), '\n');
        return fail(ErrorCode::BadFormat, field, "line " + std::to_string(line), "JSON; the file is cut off or damaged there");
    } catch (const std::exception& error) {
        return fail(ErrorCode::BadFormat, field, "", error.what());
    }
}

}  // namespace hinge::store
