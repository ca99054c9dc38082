#include "drawing/symbols.hpp"
#include <cmath>
#include <numbers>

namespace hinge::drawing {
namespace {

using kinds::Symbol;

void line(Drawing& into, std::vector<Point> points, bool closed = false, Stroke stroke = Stroke::Symbol, int wire = no_wire) {
    into.lines.push_back({std::move(points), stroke, closed, wire});
}
void around(Drawing& into, Point c, double half_wide, double half_high, int wire = no_wire) {
    line(into,
         {{c.x - half_wide, c.y - half_high},
          {c.x + half_wide, c.y - half_high},
          {c.x + half_wide, c.y + half_high},
          {c.x - half_wide, c.y + half_high}},
         true, Stroke::Symbol, wire);
}
// An arrow's head at `to`, coming from `from`.
void head(Drawing& into, Point from, Point to, double size) {
    const double angle = std::atan2(to.y - from.y, to.x - from.x), spread = 0.42;
    const auto back = [&](double turned) { return Point{to.x - size * std::cos(angle + turned), to.y - size * std::sin(angle + turned)}; };
    line(into, {to, back(spread), back(-spread)}, true, Stroke::Filled);
}
void arrow(Drawing& into, Point from, Point to) {
    line(into, {from, to});
    head(into, from, to, 5.0);
}

Leads inCircle(Drawing& into, Point c) {
    into.discs.push_back({c, 15.0, Stroke::Symbol, no_wire});
    return {{{c.x, c.y - 15.0}, {c.x, c.y + 15.0}}};
}

Leads transistor(Drawing& into, Point c, bool field_effect) {
    const double bar = c.x - 2.0, leg = c.x + 9.0;
    if (field_effect) {
        line(into, {{bar - 5.0, c.y - 11.0}, {bar - 5.0, c.y + 11.0}});
        for (const double y : {-11.0, 0.0, 11.0}) line(into, {{bar, c.y + y - 4.0}, {bar, c.y + y + 4.0}});
        line(into, {{bar, c.y - 11.0}, {leg, c.y - 11.0}, {leg, c.y - 18.0}});
        line(into, {{bar, c.y + 11.0}, {leg, c.y + 11.0}, {leg, c.y + 18.0}});
        line(into, {{leg, c.y}, {leg, c.y + 11.0}});
        line(into, {{bar, c.y}, {leg, c.y}});
        head(into, {leg, c.y}, {bar + 1.0, c.y}, 6.0);
        return {{{bar - 5.0, c.y + 11.0}, {leg, c.y - 18.0}, {leg, c.y + 18.0}}};
    }
    line(into, {{bar, c.y - 12.0}, {bar, c.y + 12.0}});
    line(into, {{bar, c.y - 5.0}, {leg, c.y - 14.0}, {leg, c.y - 18.0}});
    line(into, {{bar, c.y + 5.0}, {leg, c.y + 14.0}, {leg, c.y + 18.0}});
    head(into, {bar, c.y + 5.0}, {leg, c.y + 14.0}, 6.0);
    return {{{bar, c.y}, {leg, c.y - 18.0}, {leg, c.y + 18.0}}};
}

Leads upright(Drawing& into, Point c, double half_high) {
    around(into, c, 7.0, half_high);
    return {{{c.x, c.y - half_high}, {c.x, c.y + half_high}}};
}

Leads contact(Drawing& into, Point c) {
    line(into, {{c.x, c.y - 18.0}, {c.x, c.y - 8.0}});
    line(into, {{c.x, c.y + 18.0}, {c.x, c.y + 8.0}, {c.x - 10.0, c.y - 9.0}});
    return {{{c.x, c.y - 18.0}, {c.x, c.y + 18.0}}};
}

Leads wheel(Drawing& into, Point c, bool water) {
    auto leads = inCircle(into, c);
    into.words.push_back({{c.x, c.y + 4.0}, "M", 11.0, Toward::Centre, Tone::Plain, no_wire});
    const Point hub{c.x + 26.0, c.y};
    line(into, {{c.x + 15.0, c.y}, {hub.x - (water ? 8.0 : 0.0), c.y}});
    if (water) {
        into.discs.push_back({hub, 8.0, Stroke::Symbol, no_wire});
        line(into, {{hub.x - 4.0, c.y - 7.0}, {hub.x + 8.0, c.y}, {hub.x - 4.0, c.y + 7.0}});
    } else {
        line(into,
             {{hub.x, c.y}, {hub.x - 5.0, c.y - 13.0}, {hub.x + 5.0, c.y - 13.0}, {hub.x - 5.0, c.y + 13.0}, {hub.x + 5.0, c.y + 13.0}},
             true);
    }
    return leads;
}

}  // namespace

Leads drawSymbol(Drawing& into, Symbol symbol, Point c) {
    switch (symbol) {
        case Symbol::Board: return {};
        case Symbol::Mosfet: return transistor(into, c, true);
        case Symbol::Transistor: return transistor(into, c, false);
        case Symbol::Motor:
            into.words.push_back({{c.x, c.y + 4.0}, "M", 11.0, Toward::Centre, Tone::Plain, no_wire});
            return inCircle(into, c);
        case Symbol::Fan: return wheel(into, c, false);
        case Symbol::Pump: return wheel(into, c, true);
        case Symbol::Lamp: {
            const double d = 15.0 * std::numbers::sqrt2 / 2.0;
            line(into, {{c.x - d, c.y - d}, {c.x + d, c.y + d}});
            line(into, {{c.x - d, c.y + d}, {c.x + d, c.y - d}});
            return inCircle(into, c);
        }
        case Symbol::Led:
            line(into, {{c.x - 9.0, c.y - 7.0}, {c.x + 9.0, c.y - 7.0}, {c.x, c.y + 8.0}}, true);
            line(into, {{c.x - 9.0, c.y + 8.0}, {c.x + 9.0, c.y + 8.0}});
            arrow(into, {c.x + 10.0, c.y - 1.0}, {c.x + 19.0, c.y - 8.0});
            arrow(into, {c.x + 10.0, c.y + 6.0}, {c.x + 19.0, c.y - 1.0});
            return {{{c.x, c.y - 7.0}, {c.x, c.y + 8.0}}};
        case Symbol::Heater:
            for (const double y : {-7.5, 0.0, 7.5}) line(into, {{c.x - 7.0, c.y + y}, {c.x + 7.0, c.y + y}});
            return upright(into, c, 15.0);
        case Symbol::Coil: {
            around(into, c, 14.0, 8.0);
            line(into, {{c.x - 14.0, c.y + 8.0}, {c.x - 2.0, c.y - 8.0}});
            return {{{c.x, c.y - 8.0}, {c.x, c.y + 8.0}}};
        }
        case Symbol::Contact: return contact(into, c);
        case Symbol::Resistors:
            around(into, {c.x, c.y - 12.0}, 5.0, 8.0);
            around(into, {c.x, c.y + 12.0}, 5.0, 8.0);
            line(into, {{c.x, c.y - 4.0}, {c.x, c.y + 4.0}});
            return {{{c.x, c.y - 20.0}, {c.x, c.y + 20.0}, {c.x, c.y}}};
        case Symbol::Thermistor:
            line(into, {{c.x - 14.0, c.y + 13.0}, {c.x - 9.0, c.y + 13.0}, {c.x + 12.0, c.y - 13.0}});
            into.words.push_back({{c.x - 18.0, c.y + 9.0}, "ϑ", 10.0, Toward::Centre, Tone::Plain, no_wire});
            return upright(into, c, 14.0);
        case Symbol::Potentiometer: {
            auto leads = upright(into, c, 15.0);
            leads.at.push_back({c.x - 16.0, c.y});
            arrow(into, {c.x - 16.0, c.y}, {c.x - 7.0, c.y});
            return leads;
        }
    }
    return {};
}

void drawResistor(Drawing& into, Point c, Along along, int wire) {
    const bool lies = along == Along::Right || along == Along::Left;
    around(into, c, lies ? 11.0 : 4.5, lies ? 4.5 : 11.0, wire);
}

void drawFuse(Drawing& into, Point c, int wire) {
    around(into, c, 12.0, 4.5, wire);
    line(into, {{c.x - 12.0, c.y}, {c.x + 12.0, c.y}}, false, Stroke::Symbol, wire);
}

void drawDiode(Drawing& into, Point c, Along along, int wire) {
    const auto turned = [&](double ahead, double aside) {
        switch (along) {
            case Along::Right: return Point{c.x + ahead, c.y + aside};
            case Along::Left: return Point{c.x - ahead, c.y + aside};
            case Along::Up: return Point{c.x + aside, c.y - ahead};
            case Along::Down: return Point{c.x + aside, c.y + ahead};
        }
        return c;
    };
    line(into, {turned(-7.0, -6.5), turned(-7.0, 6.5), turned(7.0, 0.0)}, true, Stroke::Filled, wire);
    line(into, {turned(7.0, -6.5), turned(7.0, 6.5)}, false, Stroke::Symbol, wire);
}

void drawGround(Drawing& into, Point at, int wire) {
    for (int k = 0; k < 3; ++k)
        line(into, {{at.x - 9.0 + 3.0 * k, at.y + 3.5 * k}, {at.x + 9.0 - 3.0 * k, at.y + 3.5 * k}}, false, Stroke::Symbol, wire);
}

}  // namespace hinge::drawing
