import type { Radix } from '../api/schemas';

/** A value in the base of the job, padded to what that many bits take (decimal is not padded). */
export function inBase(value: number, radix: Radix, bits: number): string {
    if (radix === 10) {
        return String(value);
    }
    const digits = radix === 16 ? Math.ceil(bits / 4) : Math.ceil(bits / 3);
    return value.toString(radix).toUpperCase().padStart(digits, '0');
}

export function percent(share: number): string {
    const value = share * 100;
    return value >= 99.5 && share < 1 ? '>99' : value < 1 && value > 0 ? '<1' : String(Math.round(value));
}

export function count(number: number, one: string, many: string): string {
    return `${grouped(number)} ${number === 1 ? one : many}`;
}

/** Groups of three from five digits on. */
export function grouped(number: number): string {
    return number < 10000 ? String(number) : number.toLocaleString('en').replaceAll(',', '\u202f');
}
