const FIRST = 4096;

/** A list of doubles that grows: a plain array of a scene's millions of numbers takes up to three times the memory. */
export class DoubleList {
  /** Its numbers, and free places after them; another one once it has grown. */
  room = new Float64Array(FIRST);
  length = 0;

  get values(): Float64Array {
    return this.room.subarray(0, this.length);
  }

  push(...numbers: number[]): void {
    const end = this.length + numbers.length;
    if (end > this.room.length) {
      const larger = new Float64Array(Math.max(end, 2 * this.room.length));
      larger.set(this.room);
      this.room = larger;
    }
    for (let k = 0; k < numbers.length; k++) this.room[this.length + k] = numbers[k];
    this.length = end;
  }
}
