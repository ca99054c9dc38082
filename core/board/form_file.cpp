#include "board/form_file.hpp"
#include <fmt/format.h>
#include <array>
#include <nlohmann/json.hpp>
#include <set>
#include <stdexcept>
#include "board/all_forms.hpp"
#include "board/pwm_pool.hpp"

namespace hinge::board {
namespace {

using Json = nlohmann::json;

// Takes figures out of one object by name; what nobody took is a slip of the pen.
class Reader {
public:
    Reader(const Json& object, std::string where) : object_{object}, where_{std::move(where)} {}

    template <class T>
    void may(const char* key, T& into) {
        taken_.insert(key);
        const auto found = object_.find(key);
        if (found == object_.end()) return;
        if (!fits<T>(*found)) return refuse(key, found->dump());
        into = found->get<T>();
    }
    template <class T>
    void must(const char* key, T& into) {
        if (!object_.contains(key)) return refuse(key, "nothing");
        may(key, into);
    }
    void above(const char* key, double& into) {
        must(key, into);
        if (!(into > 0.0)) refuse(key, fmt::format("{}", into));
    }
    template <class E>
    void choice(const char* key, E& into) {
        std::string_view id;
        may(key, id);
        if (id.empty()) return;
        if (const auto value = named<E>(id)) into = *value;
        else refuse(key, std::string{id});
    }
    const Json* list(const char* key) {
        taken_.insert(key);
        const auto found = object_.find(key);
        if (found == object_.end()) return nullptr;
        if (!found->is_structured()) refuse(key, found->dump());
        return &*found;
    }
    void refuse(const std::string& key, const std::string& said) {
        if (!wrong_) wrong_ = std::pair{where_ + "/" + key, said};
    }
    Result<void> done() {
        for (const auto& [key, value] : object_.items())
            if (!taken_.contains(key)) refuse(key, "a name that is not known");
        if (wrong_) return fail(ErrorCode::BadFormat, wrong_->first, wrong_->second, "as form_file.hpp and the other boards have it");
        return {};
    }

private:
    template <class T>
    static bool fits(const Json& value) {
        if constexpr (std::is_same_v<T, bool>) return value.is_boolean();
        else if constexpr (std::is_same_v<T, int>) return value.is_number_integer();
        else if constexpr (std::is_same_v<T, double>) return value.is_number();
        else return value.is_string();
    }
    const Json& object_;
    std::string where_;
    std::set<std::string> taken_;
    std::optional<std::pair<std::string, std::string>> wrong_;
};

// "serial 2 in": a line of a port of the chip's own that is not its console.
void readSerial(Pin& pin) {
    constexpr std::string_view serial = "serial ";
    const auto text = pin.shares;
    if (pin.console || text.size() < serial.size() + 4 || !text.starts_with(serial) || text[serial.size()] < '1' ||
        text[serial.size()] > '9')
        return;
    const auto way = text.substr(serial.size() + 1);
    if (way != " in" && way != " out") return;
    pin.serial_port = text[serial.size()] - '0';
    pin.serial_in = way == " in";
}

char letter(std::string_view word) {
    return word.size() == 1 ? word.front() : ' ';
}

Result<Pin> pinFrom(const Json& object, const std::string& board) {
    Pin pin;
    Reader reader{object, fmt::format("{}/{}", board, object.at("name").get<std::string>())};
    std::string_view port = "0", output = " ";
    bool pooled = false, analog = false;
    reader.must("name", pin.name);
    reader.must("number", pin.number);
    pin.bit = pin.number;
    reader.may("port", port);
    reader.may("bit", pin.bit);
    reader.may("timer", pin.pwm_timer);
    reader.may("output", output);
    reader.may("pooled", pooled);
    reader.may("interrupt", pin.interrupt);
    reader.may("analog", analog);
    reader.may("analog_channel", pin.analog_channel);
    reader.may("shares", pin.shares);
    reader.may("console", pin.console);
    reader.may("input_only", pin.input_only);
    reader.may("strap", pin.strap);
    pin.port = letter(port);
    pin.pwm_output = pooled ? '*' : letter(output);
    if (pooled) pin.pwm_timer = pooled_timer;
    pin.analog = analog || pin.analog_channel >= 0;
    readSerial(pin);
    if (pin.port == ' ') reader.refuse("port", std::string{port});
    if ((pin.pwm_timer >= 0) != (pin.pwm_output != ' ')) reader.refuse("timer", "a timer and an output go together");
    if (auto done = reader.done(); !done) return tl::unexpected(done.error());
    return pin;
}

void readProgramming(Reader& reader, Family& family) {
    if (const Json* bus = reader.list("bus"))
        for (const char* line : {"data", "clock"}) {
            if (bus->contains(line) && bus->at(line).is_string()) family.bus.emplace_back(line, bus->at(line).get<std::string_view>());
            else reader.refuse("bus", line);
        }
    if (const Json* programmer = reader.list("programmer")) {
        Reader inner{*programmer, "programmer"};
        Programmer& into = family.programmer.emplace();
        inner.must("chip", into.chip);
        inner.must("protocol", into.protocol);
        inner.must("baud", into.baud);
        if (auto done = inner.done(); !done) reader.refuse("programmer", done.error().field);
    }
    if (const Json* steps = reader.list("by_hand"))
        for (const auto& step : *steps) {
            if (step.is_string()) family.by_hand.push_back(step.get<std::string_view>());
            else reader.refuse("by_hand", step.dump());
        }
    if (family.by_hand.empty()) reader.refuse("by_hand", "nothing");
    reader.may("core_variant", family.core_variant);
    reader.may("signature", family.signature);
}

}  // namespace

Result<void> addForm(Forms& forms, const nlohmann::json& document) {
    if (!document.is_object() || !document.contains("id") || !document.at("id").is_string())
        return fail(ErrorCode::BadFormat, "board/id", document.type_name(), "one object with its id");
    const std::string board = document.at("id").get<std::string>();
    Reader reader{document, board};
    Family family;
    std::string_view pins_as, remark;
    bool servo_pulses_by_pwm = false;
    reader.choice("id", family.form);
    if (nameOf(family.form) != board) reader.refuse("id", board);
    family.name = labelOf(family.form);
    reader.list("sources");
    reader.may("remark", remark);
    reader.choice("mcu", family.mcu);
    reader.choice("target", family.target);
    reader.above("clock_Hz", family.clock);
    reader.above("logic_V", family.logic);
    reader.above("pin_current_A", family.pin_current);
    reader.above("total_current_A", family.total_current);
    reader.above("own_current_A", family.own_current);
    reader.above("guaranteed_floor_V", family.guaranteed_floor);
    reader.above("brown_out_V", family.brown_out);
    reader.must("ground_pins", family.ground_pins);
    reader.must("flash_bytes", family.flash);
    reader.must("ram_bytes", family.ram);
    reader.must("supply_pin", family.supply_pin);
    reader.above("supply_most_V", family.supply_most);
    reader.may("adc_bits", family.adc_bits);
    reader.may("adc_reference_V", family.adc_reference);
    reader.may("clock_timer", family.clock_timer);
    reader.may("beat_timer", family.beat_timer);
    reader.may("phase_timer", family.phase_timer);
    reader.may("phase_alarm", family.phase_alarm);
    reader.may("untimed_timer", family.untimed_timer);
    reader.may("pool_timers", family.pool);
    reader.may("real_time", family.real_time);
    reader.may("link", family.link);
    reader.may("pwm_counts_oscillator", family.pwm_counts_oscillator);
    reader.may("own_regulator", family.own_regulator);
    reader.may("servo_pulses_by_pwm", servo_pulses_by_pwm);
    reader.may("timer_word", family.timer_word);
    reader.must("pins_on_the_left", family.on_left);
    reader.may("pins_as", pins_as);
    readProgramming(reader, family);
    family.emulated = family.target == Target::Avr;
    if (servo_pulses_by_pwm) family.servo_pwm = servo_rate;
    if (const Json* pins = reader.list("pins")) {
        auto& own = forms.pins.emplace_back();
        for (const auto& object : *pins) {
            if (!object.is_object() || !object.contains("name") || !object.at("name").is_string())
                return fail(ErrorCode::BadFormat, board + "/pins", object.dump(), "objects with a name");
            auto pin = pinFrom(object, board);
            if (!pin) return tl::unexpected(pin.error());
            own.push_back(*pin);
        }
        family.pins = own;
    }
    for (const auto& other : forms.list)
        if (nameOf(other.form) == pins_as) family.pins = other.pins;
    if (family.pins.empty()) reader.refuse("pins", "none");
    if (auto done = reader.done(); !done) return done;
    forms.list.push_back(family);
    return {};
}

const Family& family(BoardForm form) {
    struct Read {
        std::vector<Json> documents;
        Forms forms;
        std::array<const Family*, std::size(Names<BoardForm>::all)> by_form{};
    };
    // The files are part of the program: one that cannot be read is a fault of ours, and board_test says where.
    static const Read read = [] {
        Read out;
        for (const auto text : all_forms) out.documents.push_back(Json::parse(text));
        // Those with pins of their own first.
        for (const bool own : {true, false})
            for (const auto& document : out.documents)
                if (document.contains("pins") == own)
                    if (const auto added = addForm(out.forms, document); !added) throw std::logic_error(sentence(added.error()));
        for (const auto& each : out.forms.list) out.by_form.at(static_cast<std::size_t>(each.form)) = &each;
        for (const auto& name : Names<BoardForm>::all)
            if (out.by_form.at(static_cast<std::size_t>(name.value)) == nullptr)
                throw std::logic_error(std::string{"no board file for "} + name.id);
        return out;
    }();
    return *read.by_form.at(static_cast<std::size_t>(form));
}

}  // namespace hinge::board
