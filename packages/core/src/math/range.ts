/** Limits of a number that a person sets, and how it is set. Defined once: the schema and the tray read them. */
export interface Range {
  readonly min: number;
  readonly max: number;
  /** Step of the slider. */
  readonly step?: number;
  /** After the point. */
  readonly digits?: number;
  readonly unit?: 'texels' | 'degrees' | 'mm';
  readonly logarithmic?: boolean;
}

export type NumberKeys<P> = { [K in keyof P]-?: NonNullable<P[K]> extends number ? K : never }[keyof P] & string;
