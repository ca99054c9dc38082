// Runs a program on an emulated RP2040, and says every change of a pin that it drives, and what it sends.
//   node run.mjs PROGRAM.bin LAST_MICROSECOND < SCRIPT > HEARD
// SCRIPT: lines in time, "US pin GPIO LEVEL", "US adc GPIO TWELVE_BITS", "US say HEX_BYTES", or "US chip SELECT CLOCK OUT IN ADDRESS VALUE": at
// those pins hangs a chip with registers of 32 bits, frames of 40 in mode 3, whose one known register is that. HEARD: lines "pin NANOSECOND GPIO LEVEL",
// "sent NANOSECOND BYTE" and "watchdog NANOSECOND".
// LATCH=top: slices that count up and down take their levels over at their top, not where they come back to 0.
import { readFileSync } from 'node:fs';
import { RP2040 } from 'rp2040js';

const [, , program, last] = process.argv;
const mcu = new RP2040();
mcu.logger = { debug() {}, info() {}, warn() {}, error(who, what) { heard.push(`trouble ${who} ${what}`); } };
const heard = [];
mcu.flash.set(readFileSync(program), 0x100);
const flash = new DataView(mcu.flash.buffer, mcu.flash.byteOffset);
function reset() {
  mcu.core.VTOR = 0x10000100;
  mcu.core.SP = flash.getUint32(0x100, true);
  mcu.core.PC = flash.getUint32(0x104, true) & ~1;
}
reset();
const now = () => Math.round(mcu.clock.nanos);

// The library's slices only ever let an output fall. One that counts up and down, after the data sheet's chapter 4.5.2 (from memory): each
// count comes twice, 0 and TOP included; an output is on while the count is below its level; levels and TOP are taken over together.
class UpAndDown {
  constructor(channel) {
    this.channel = channel;
    this.alarm = mcu.clock.createAlarm(() => this.turn());
    this.running = false;
  }
  get tick() { return ((this.channel.div || 16) / 16) * 1e9 / 125e6; }
  take() { this.level = [this.channel.cc & 0xffff, this.channel.cc >>> 16], this.top = this.channel.top; }
  put(which, on) { if (this.on[which] !== on) this.on[which] = on, which ? this.channel.setB(on) : this.channel.setA(on); }
  start() {
    this.running = true, this.up = false, this.on = [null, null], this.due = [];
    this.take();
    this.at = mcu.clock.nanos;
    this.turn();
  }
  stop() { this.running = false, this.alarm.cancel(); }
  // The next of what is due, or the count turns round.
  turn() {
    if (!this.running) return;
    while (this.due.length && this.due[0].at <= mcu.clock.nanos + 0.5) {
      const { which, on } = this.due.shift();
      this.put(which, on);
    }
    if (!this.due.length && mcu.clock.nanos + 0.5 >= this.at) {
      this.up = !this.up;
      if (this.up ? process.env.LATCH !== 'top' : process.env.LATCH === 'top') this.take();
      const counts = this.top + 1, from = this.at;
      this.level.forEach((level, which) => {
        this.put(which, this.up ? level > 0 : level > this.top);
        if (level > 0 && level <= this.top) this.due.push({ at: from + this.tick * (this.up ? level : counts - level), which, on: !this.up });
      });
      this.due.sort((a, b) => a.at - b.at);
      this.at = from + this.tick * counts;
    }
    this.alarm.schedule(Math.max(0, (this.due.length ? this.due[0].at : this.at) - mcu.clock.nanos));
  }
}
for (const channel of mcu.pwm.channels) {
  const own = channel.writeRegister.bind(channel), model = new UpAndDown(channel);
  channel.writeRegister = (offset, value) => {
    own(offset, value);
    const up_and_down = (channel.csr & 3) === 3;
    if (up_and_down) channel.timer.enable = false;
    if (up_and_down && !model.running) model.start();
    if (!up_and_down && model.running) model.stop();
  };
}
let chip = null;
function chipHears(gpio, high) {
  if (gpio === chip.select) {
    if (!high) chip.frame = 0n, chip.bits = 0;
    else if (chip.bits === 40) {
      const address = Number(chip.frame >> 32n & 0x7fn), value = chip.frame & 0xffffffffn, writes = chip.frame >> 39n & 1n;
      if (writes) chip.registers.set(address, value);
      chip.answer = writes ? value : chip.registers.get(address) ?? 0n;
    }
    chip.selected = !high;
    if (high) mcu.gpio[chip.in].setInputValue(true);
  } else if (gpio === chip.clock && chip.selected) {
    if (high) chip.frame = chip.frame << 1n | BigInt(chip.out_level), ++chip.bits;
    else mcu.gpio[chip.in].setInputValue(chip.bits >= 8 && chip.bits < 40 && (chip.answer >> BigInt(39 - chip.bits) & 1n) === 1n);
  }
}
mcu.gpio.forEach((pin, gpio) => {
  let driven = -1;
  pin.addListener((state) => {
    if (state > 1 || state === driven) return;
    driven = state;
    if (chip && gpio === chip.out) chip.out_level = state;
    if (chip) chipHears(gpio, state === 1);
    heard.push(`pin ${now()} ${gpio} ${state}`);
  });
});
mcu.uart[1].onByte = (byte) => heard.push(`sent ${now()} ${byte}`);
mcu.uart[0].onByte = (byte) => heard.push(`aired ${now()} ${byte}`);
// It ends there: nothing resets the emulated chip.
const bitten = new Error('the watchdog');
mcu.peripherals[0x40058].onWatchdogTrigger = () => {
  heard.push(`watchdog ${now()}`);
  throw bitten;
};
const script = readFileSync(0, 'ascii').split('\n').filter((line) => line).map((line) => line.split(' '));
let next = 0;
const cycle = 8;  // ns
function run() {
  while (mcu.clock.nanos < 1000 * +last) {
    while (next < script.length && 1000 * +script[next][0] <= mcu.clock.nanos) {
      const [, what, where, value, ...more] = script[next++];
      if (what === 'chip') {
        mcu.gpio[+more[1]].setInputValue(true);
        chip = { select: +where, clock: +value, out: +more[0], in: +more[1], registers: new Map([[+more[2], BigInt(more[3])]]), answer: 0n,
                 frame: 0n, bits: 0, selected: false, out_level: 0 };
      }
      if (what === 'pin') mcu.gpio[+where].setInputValue(value === '1');
      if (what === 'adc') mcu.adc.channelValues[+where - 26] = +value;
      if (what === 'say') for (const byte of Buffer.from(where, 'hex')) mcu.uart[1].feedByte(byte);
      if (what === 'air') for (const byte of Buffer.from(where, 'hex')) mcu.uart[0].feedByte(byte);
    }
    const until = Math.min(1000 * +last, next < script.length ? 1000 * +script[next][0] : Infinity);
    while (mcu.clock.nanos < until) {
      if (mcu.core.waiting) mcu.clock.tick(Math.max(cycle, Math.min(mcu.clock.nanosToNextAlarm, until - mcu.clock.nanos)));
      else mcu.clock.tick(mcu.core.executeInstruction() * cycle);
    }
  }
}
try {
  run();
} catch (error) {
  if (error !== bitten) throw error;
}
process.stdout.write(heard.join('\n') + '\n');
