// Runs a processor core from the npm registry (6502.ts) from its reset on and prints every access to its bus.
// Standard input: {"memory":base64 of 65536 bytes,"cycles":n}
// Standard output: {"accesses":[[address,value or -1 for a read],...],"registers":[a,x,y,s,pc]}
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';

const require = createRequire(import.meta.url);
const { default: Cpu } = require('6502.ts/lib/machine/cpu/StateMachineCpu.js');
const job = JSON.parse(readFileSync(0, 'utf8'));
const memory = new Uint8Array(Buffer.from(job.memory, 'base64'));
const accesses = [];
const read = (address) => {
    accesses.push([address, -1]);
    return memory[address];
};
const bus = {
    read,
    peek: (address) => memory[address],
    readWord: (address) => read(address) | (read((address + 1) & 0xffff) << 8),
    write: (address, value) => {
        accesses.push([address, value]);
        memory[address] = value;
    },
    poke() {},
};
const cpu = new Cpu(bus);
cpu.reset();
for (let cycle = 0; cycle < job.cycles; cycle++) cpu.cycle();
const state = cpu.state;
console.log(JSON.stringify({ accesses, registers: [state.a, state.x, state.y, state.s, state.p], memory: Buffer.from(memory).toString('base64') }));
