import { mix32 } from '../../math/mix.ts';

/** Numbers by three others, each at least -1: open addressing, at most half full. */
export class Triples {
  private keys = new Int32Array(3 * 1024);
  private values = new Int32Array(1024).fill(-1);
  private count = 0;

  /** @returns -1 where there is none. */
  find(a: number, b: number, c: number): number {
    return this.values[this.slotOf(a, b, c)];
  }

  add(a: number, b: number, c: number, value: number): void {
    if (2 * ++this.count > this.values.length) this.grow();
    const slot = this.slotOf(a, b, c);
    this.put(slot, a, b, c);
    this.values[slot] = value;
  }

  private put(slot: number, a: number, b: number, c: number): void {
    this.keys[3 * slot] = a;
    this.keys[3 * slot + 1] = b;
    this.keys[3 * slot + 2] = c;
  }

  /** Where it is, or would be. */
  private slotOf(a: number, b: number, c: number): number {
    const { keys, values } = this;
    const last = values.length - 1;
    let slot = mix32(a ^ mix32(b ^ mix32(c))) & last;
    while (values[slot] >= 0 && (keys[3 * slot] !== a || keys[3 * slot + 1] !== b || keys[3 * slot + 2] !== c)) {
      slot = (slot + 1) & last;
    }
    return slot;
  }

  private grow(): void {
    const { keys, values } = this;
    this.keys = new Int32Array(2 * keys.length);
    this.values = new Int32Array(2 * values.length).fill(-1);
    for (let i = 0; i < values.length; i++) {
      if (values[i] < 0) continue;
      const [a, b, c] = [keys[3 * i], keys[3 * i + 1], keys[3 * i + 2]];
      const slot = this.slotOf(a, b, c);
      this.put(slot, a, b, c);
      this.values[slot] = values[i];
    }
  }
}
