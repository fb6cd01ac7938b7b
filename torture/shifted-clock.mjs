// Loaded before the server: its clock is off by CLOCK_SHIFT_MS, as after somebody set it.
const shift = Number(process.env.CLOCK_SHIFT_MS ?? 0);
const RealDate = Date;
globalThis.Date = class extends RealDate {
  constructor(...values) {
    if (values.length === 0) super(RealDate.now() + shift);
    else super(...values);
  }
  static now() {
    return RealDate.now() + shift;
  }
};
