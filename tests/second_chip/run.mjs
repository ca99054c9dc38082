// Runs a program on a second, independent model of the ATmega328P and says every change of an output pin.
//   node run.mjs PROGRAM.hex LAST_CYCLE < SCRIPT > EDGES
// SCRIPT: lines "CYCLE PORT BIT LEVEL" of what the outside drives, in time. EDGES: the same, of what the program drives.
import { readFileSync } from 'node:fs';
import { AVRADC, AVRClock, AVREEPROM, AVRIOPort, AVRTimer, AVRTWI, AVRUSART, AVRWatchdog, CPU, EEPROMMemoryBackend, PinState, adcConfig,
  avrInstruction, clockConfig, portBConfig, portCConfig, portDConfig, timer0Config, timer1Config, timer2Config, twiConfig, usart0Config,
  watchdogConfig } from 'avr8js';

const clock = 16e6;
const [, , hexFile, last] = process.argv;
const flash = new Uint8Array(0x8000).fill(0xff);
for (const line of readFileSync(hexFile, 'ascii').split('\n')) {
  if (line[0] !== ':' || line.substr(7, 2) !== '00') continue;
  const count = parseInt(line.substr(1, 2), 16), address = parseInt(line.substr(3, 4), 16);
  for (let i = 0; i < count; ++i) flash[address + i] = parseInt(line.substr(9 + 2 * i, 2), 16);
}
const cpu = new CPU(new Uint16Array(flash.buffer));
const ports = { B: new AVRIOPort(cpu, portBConfig), C: new AVRIOPort(cpu, portCConfig), D: new AVRIOPort(cpu, portDConfig) };
for (const config of [timer0Config, timer1Config, timer2Config]) new AVRTimer(cpu, config);
new AVRUSART(cpu, usart0Config, clock);
new AVREEPROM(cpu, new EEPROMMemoryBackend(1024));
new AVRADC(cpu, adcConfig);
new AVRTWI(cpu, twiConfig, clock);
new AVRWatchdog(cpu, watchdogConfig, new AVRClock(cpu, clock, clockConfig));

const edges = [];
for (const [name, port] of Object.entries(ports)) {
  const driven = new Array(8).fill(false);
  port.addListener(() => {
    for (let bit = 0; bit < 8; ++bit) {
      const high = port.pinState(bit) === PinState.High;
      if (high !== driven[bit]) edges.push(`${cpu.cycles} ${name} ${bit} ${high ? 1 : 0}`);
      driven[bit] = high;
    }
  });
}
const script = readFileSync(0, 'ascii').split('\n').filter((line) => line).map((line) => line.split(' '));
let next = 0;
while (cpu.cycles < +last) {
  while (next < script.length && +script[next][0] <= cpu.cycles) {
    const [, name, bit, level] = script[next++];
    ports[name].setPin(+bit, level === '1');
  }
  // Steps until the next thing of the script, without looking each time.
  const until = Math.min(+last, next < script.length ? +script[next][0] : +last);
  while (cpu.cycles < until) {
    avrInstruction(cpu);
    cpu.tick();
  }
}
process.stdout.write(edges.join('\n') + '\n');
