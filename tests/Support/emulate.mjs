// Runs machine code on a processor core from the npm registry against memory with a fault, as a reference for tests.
// Standard input: {"processor","program":[bytes],"at","start","stop","faults":[{"kind","address","bit","value","other"}],"read":{"from","count"}}
// Standard output: {"bytes":[...],"cycles":n}
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';

const require = createRequire(import.meta.url);
const job = JSON.parse(readFileSync(0, 'utf8'));
const memory = new Uint8Array(0x10000);
memory.set(job.program, job.at);

const reached = (address) => {
    for (const fault of job.faults) {
        if (fault.address === address && fault.kind === 'another cell') return fault.other;
    }
    return address;
};
const write = (address, value) => {
    const cell = reached(address);
    for (const fault of job.faults) {
        const mask = 1 << fault.bit;
        if (fault.kind === 'transition' && fault.address === cell && !(memory[cell] & mask) && value & mask) value &= ~mask;
    }
    memory[cell] = value;
};
const read = (address) => {
    const cell = reached(address);
    let value = memory[cell];
    for (const fault of job.faults) {
        if (fault.kind === 'stuck' && fault.address === cell) {
            value = fault.value ? value | (1 << fault.bit) : value & ~(1 << fault.bit);
        }
    }
    return value;
};

// A call from here, so that the last RET comes back to a place that is watched.
const home = 0xf000;
let cycles = 0;
if (job.processor === '6502') {
    memory.set([0x20, job.at & 0xff, job.at >> 8, 0x4c, 0x03, 0xf0], home);
    memory.set([home & 0xff, home >> 8], 0xfffc);
    const { default: Cpu } = require('6502.ts/lib/machine/cpu/StateMachineCpu.js');
    const bus = { read, peek: read, readWord: (a) => read(a) | (read(a + 1) << 8), write, poke: write };
    const cpu = new Cpu(bus);
    cpu.reset();
    while (cpu.state.p !== home + 3 || cycles < 20) {
        cpu.cycle();
        if (++cycles > 60_000_000) throw new Error('The program does not come back.');
    }
} else {
    memory.set([0xcd, job.at & 0xff, job.at >> 8, 0x76], home);
    const { Z80 } = require('z80-emulator');
    const hal = {
        tStateCount: 0,
        readMemory: read,
        writeMemory: write,
        contendMemory() {},
        readPort: () => 0,
        writePort() {},
        contendPort() {},
    };
    const cpu = new Z80(hal);
    cpu.reset();
    cpu.regs.pc = home;
    cpu.regs.sp = 0xefff;
    while (cpu.regs.pc !== home + 3) {
        cpu.step();
        if (hal.tStateCount > 200_000_000) throw new Error('The program does not come back.');
    }
    cycles = hal.tStateCount;
}
console.log(JSON.stringify({ bytes: [...memory.slice(job.read.from, job.read.from + job.read.count)], cycles }));
