// Runs a program on an emulated RP2040, and says every change of a pin that it drives, and what it sends.
//   node run.mjs PROGRAM.bin LAST_MICROSECOND < SCRIPT > HEARD
// SCRIPT: lines in time, "US pin GPIO LEVEL", "US adc GPIO TWELVE_BITS" or "US say HEX_BYTES". HEARD: lines "pin NANOSECOND GPIO LEVEL",
// "sent NANOSECOND BYTE" and "watchdog NANOSECOND".
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
mcu.gpio.forEach((pin, gpio) => {
  let driven = -1;
  pin.addListener((state) => {
    if (state > 1 || state === driven) return;
    driven = state;
    heard.push(`pin ${now()} ${gpio} ${state}`);
  });
});
mcu.uart[0].onByte = (byte) => heard.push(`sent ${now()} ${byte}`);
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
      const [, what, where, value] = script[next++];
      if (what === 'pin') mcu.gpio[+where].setInputValue(value === '1');
      if (what === 'adc') mcu.adc.channelValues[+where - 26] = +value;
      if (what === 'say') for (const byte of Buffer.from(where, 'hex')) mcu.uart[0].feedByte(byte);
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
