/** What the browser lacks, what still works without it, and what to do. */
export interface Lack {
  message: string;
  works: string;
  remedy: string;
}

const WORKS = 'The Stock and the Hand-off still work: the server computes what is handed off.';

/** Why nothing can be computed and drawn in this browser, on this page; null where it can. */
export function lackOfBench(): Lack | null {
  if (typeof SharedArrayBuffer === 'undefined') {
    return isSecureContext
      ? {
          message: 'This browser offers no shared memory, which the Bench needs to compute.',
          works: WORKS,
          remedy: 'Use a current version, without add-ons that change page headers.',
        }
      : {
          message:
            'This page came over plain HTTP from another machine. Browsers give such pages no shared memory, which the Bench needs to compute.',
          works: WORKS,
          remedy: 'Start the server with --tls and open the page by https, or open it on the server’s own machine.',
        };
  }
  if (typeof OffscreenCanvas === 'undefined' || !('transferControlToOffscreen' in HTMLCanvasElement.prototype)) {
    return {
      message: 'This browser has no OffscreenCanvas, which the Sheet and the Stand need to draw.',
      works: WORKS,
      remedy: 'Use a current version.',
    };
  }
  if (typeof Worker === 'undefined') {
    return {
      message: 'This browser runs no web workers, which the Bench needs to compute.',
      works: WORKS,
      remedy: 'Use a current version.',
    };
  }
  return null;
}

/** Whether the small settings of the browser are kept between visits. */
export function keepsSettings(): boolean {
  try {
    localStorage.setItem('lithe-sieve probe', '1');
    localStorage.removeItem('lithe-sieve probe');
    return true;
  } catch {
    return false;
  }
}
