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
          message: 'This browser gives pages no shared memory, which the Bench computes in.',
          works: WORKS,
          remedy: 'Use a current version of it, without add-ons that change what pages are sent with.',
        }
      : {
          message:
            'This page came over plain HTTP from another machine, and browsers give such pages no shared memory, which the Bench computes in.',
          works: WORKS,
          remedy: 'Start the server with --tls and open the page by https, or open it on the machine of the server.',
        };
  }
  if (typeof OffscreenCanvas === 'undefined' || !('transferControlToOffscreen' in HTMLCanvasElement.prototype)) {
    return {
      message:
        'This browser cannot draw off the page (no OffscreenCanvas), which the Sheet and the Stand are drawn with.',
      works: WORKS,
      remedy: 'Use a current version of it.',
    };
  }
  if (typeof Worker === 'undefined') {
    return {
      message: 'This browser runs no workers, which the Bench computes in.',
      works: WORKS,
      remedy: 'Use a current version of it.',
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
