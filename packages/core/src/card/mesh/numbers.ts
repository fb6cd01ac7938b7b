/** A list of numbers that grows, eight bytes each. */
export class Numbers {
  private held = new Float64Array(1024);
  length = 0;

  push(value: number): void {
    if (this.length === this.held.length) {
      const larger = new Float64Array(2 * this.length);
      larger.set(this.held);
      this.held = larger;
    }
    this.held[this.length++] = value;
  }

  at(i: number): number {
    return this.held[i];
  }

  values(): Float64Array {
    return this.held.subarray(0, this.length);
  }

  floats(): Float32Array {
    return new Float32Array(this.values());
  }
}
