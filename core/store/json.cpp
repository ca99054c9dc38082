#include "store/json.hpp"
#include <algorithm>
#include <set>
#include "project/describe.hpp"
#include "quantity/text.hpp"
#include "quantity/units.hpp"
#include "timing/time_of_day.hpp"
#include "working/form.hpp"

namespace hinge::store {
namespace {

using project::describe;
using project::Meta;

template <class T>
struct Unwrap {
    using type = T;
    static constexpr bool optional = false;
};
template <class T>
struct Unwrap<std::optional<T>> {
    using type = T;
    static constexpr bool optional = true;
};
template <class T>
struct IsVector : std::false_type {};
template <class T>
struct IsVector<std::vector<T>> : std::true_type {
    using entry = T;
};

// A journal grows for years, three lines a day are 11 000 in ten; everything else a person places by hand.
template <class Entry>
constexpr std::size_t most_entries = std::is_same_v<Entry, journal::Entry> ? 200000 : 10000;
constexpr std::size_t longest_text = 20000;

struct Writer {
    Json& out;
    template <class T>
    void operator()(const char* name, T& member, const Meta&) {
        out[name] = value(member);
    }
    template <class T>
    static Json value(T& member) {
        if constexpr (Unwrap<T>::optional) {
            return member ? value(*member) : Json(nullptr);
        } else if constexpr (IsVector<T>::value) {
            Json list = Json::array();
            for (auto& entry : member) list.push_back(value(entry));
            return list;
        } else if constexpr (Measurable<T>) {
            // Plain numbers stay numbers; everything else carries its unit.
            if (siUnit(kindOf<T>).empty()) return Json(si(member));
            return Json(exactText(kindOf<T>, si(member)));
        } else if constexpr (Named<T>) {
            return Json(nameOf(member));
        } else if constexpr (std::is_same_v<T, std::string> || std::is_same_v<T, bool>) {
            return Json(member);
        } else {
            Json object = Json::object();
            Writer inner{object};
            describe(inner, member);
            return object;
        }
    }
};

struct Reader {
    const Json& in;
    std::string prefix;
    std::optional<Error>& error;

    template <class T>
    void operator()(const char* name, T& member, const Meta& meta) {
        if (error) return;
        const auto found = in.find(name);
        if (found == in.end()) return;
        const std::string path = prefix.empty() ? name : prefix + "/" + name;
        read(*found, path, member, meta, error);
    }

    static std::string shown(const Json& json) {
        std::string text =
            json.is_structured() ? (json.is_array() ? "a list" : "an object") : json.dump(-1, ' ', false, Json::error_handler_t::replace);
        return text.size() > 60 ? text.substr(0, 57) + "…" : text;
    }
    static void refuse(std::optional<Error>& error, const std::string& path, const Json& json, std::string accepted) {
        error = Error{ErrorCode::BadFormat, path, shown(json), std::move(accepted)};
    }

    template <class T>
    static void read(const Json& json, const std::string& path, T& member, const Meta& meta, std::optional<Error>& error) {
        if constexpr (Unwrap<T>::optional) {
            if (json.is_null()) {
                member.reset();
                return;
            }
            typename Unwrap<T>::type value{};
            read(json, path, value, meta, error);
            if (!error) member = value;
        } else if constexpr (IsVector<T>::value) {
            if (!json.is_array()) return refuse(error, path, json, "a list");
            constexpr std::size_t most = most_entries<typename IsVector<T>::entry>;
            if (json.size() > most) return refuse(error, path, json, "a list of at most " + std::to_string(most));
            member.clear();
            std::set<std::string> ids;
            for (const auto& item : json) {
                typename IsVector<T>::entry entry{};
                const std::string here = path + "/" + std::to_string(member.size());
                if (!item.is_object()) return refuse(error, here, item, "an object");
                Reader inner{item, here, error};
                describe(inner, entry);
                if (error) return;
                if (entry.id.empty()) return refuse(error, here + "/id", item, "an id of its own");
                if (entry.id.size() > 80 || entry.id.find_first_of("/\"\\\n") != std::string::npos)
                    return refuse(error, here + "/id", Json(entry.id), "letters, digits and _");
                if (!ids.insert(entry.id).second) {
                    error = Error{ErrorCode::Conflict, here + "/id", entry.id, "each id once in its list"};
                    return;
                }
                member.push_back(std::move(entry));
            }
        } else if constexpr (Measurable<T>) {
            double value = 0.0;
            if (json.is_number()) {
                value = json.template get<double>();
                if (!std::isfinite(value)) return refuse(error, path, json, "a finite number");
            } else if (json.is_string()) {
                auto parsed = parseQuantity(kindOf<T>, json.template get<std::string>());
                if (!parsed) {
                    error = parsed.error();
                    error->field = path;
                    return;
                }
                value = *parsed;
            } else {
                return refuse(error, path, json, "a quantity such as \"0.45 m\"");
            }
            if (value < meta.least || (value == meta.least && !meta.least_itself) || value > meta.most) {
                error = Error{ErrorCode::OutOfRange, path, shown(json), inWords({meta.least, meta.least_itself, meta.most}, kindOf<T>)};
                return;
            }
            member = of<T>(value);
        } else if constexpr (Named<T>) {
            std::string choices;
            for (const auto& entry : Names<T>::all) choices += (choices.empty() ? "" : ", ") + std::string{entry.id};
            if (!json.is_string()) return refuse(error, path, json, "one of " + choices);
            const auto value = named<T>(json.template get<std::string>());
            if (!value) return refuse(error, path, json, "one of " + choices);
            member = *value;
        } else if constexpr (std::is_same_v<T, bool>) {
            if (!json.is_boolean()) return refuse(error, path, json, "true or false");
            member = json.template get<bool>();
        } else if constexpr (std::is_same_v<T, std::string>) {
            if (!json.is_string()) return refuse(error, path, json, "a text");
            member = json.template get<std::string>();
            if (member.size() > longest_text) return refuse(error, path, json, "at most 20000 characters");
            if (path.ends_with("/times") && !member.empty()) {
                const auto times = timing::parseTimesOfDay(member);
                if (!times) {
                    error = times.error();
                    error->field = path;
                }
            }
        } else {
            if (!json.is_object()) return refuse(error, path, json, "an object");
            Reader inner{json, path, error};
            describe(inner, member);
        }
    }
};

struct SchemaWriter {
    Json& properties;
    template <class T>
    void operator()(const char* name, T& member, const Meta& meta) {
        properties[name] = schemaOf(member, meta);
    }
    template <class T>
    static Json schemaOf(T&, const Meta& meta) {
        Json schema = Json::object();
        if constexpr (Unwrap<T>::optional) {
            typename Unwrap<T>::type sample{};
            schema["anyOf"] = Json::array({Json{{"type", "null"}}, schemaOf(sample, meta)});
        } else if constexpr (IsVector<T>::value) {
            typename IsVector<T>::entry sample{};
            schema["type"] = "array";
            schema["maxItems"] = most_entries<typename IsVector<T>::entry>;
            schema["items"] = schemaOf(sample, meta);
            schema["items"]["required"] = Json::array({"id"});
        } else if constexpr (std::is_same_v<T, project::Demand>) {
            // One shape for each kind of channel.
            schema["anyOf"] = Json::array();
            for (const auto& kind : Names<project::ChannelKind>::all)
                std::visit([&](auto sample) { schema["anyOf"].push_back(schemaOf(sample, meta)); }, project::freshDemand(kind.value));
        } else if constexpr (Measurable<T>) {
            schema["type"] = Json::array({"string", "number"});
            schema["description"] =
                std::string{kindName(kindOf<T>)} +
                (siUnit(kindOf<T>).empty() ? "" : ", such as \"1 " + std::string{siUnit(kindOf<T>)} + "\"; a bare number is SI");
        } else if constexpr (Named<T>) {
            schema["enum"] = Json::array();
            for (const auto& entry : Names<T>::all) schema["enum"].push_back(entry.id);
        } else if constexpr (std::is_same_v<T, bool>) {
            schema["type"] = "boolean";
        } else if constexpr (std::is_same_v<T, std::string>) {
            schema["type"] = "string";
            schema["maxLength"] = longest_text;
        } else {
            T sample{};
            Json inner = Json::object();
            SchemaWriter writer{inner};
            describe(writer, sample);
            schema["type"] = "object";
            schema["properties"] = inner;
        }
        return schema;
    }
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
    if (!json.is_object()) return fail(ErrorCode::BadFormat, "project", Reader::shown(json), "an object with a \"format\"");
    Reader reader{json, "", error};
    describe(reader, project);
    if (error) return tl::unexpected(*error);
    return project;
}

Json projectSchema() {
    Json schema = Json::object();
    schema["$schema"] = "http://json-schema.org/draft-07/schema#";
    schema["title"] = "Hinge Spark project, format 1";
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
    int depth = 0;
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
        } else if (c == '}' || c == ']') {
            --depth;
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
