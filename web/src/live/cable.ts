/** What of the Web Serial API is used here; browsers that have none have no `navigator.serial`. */
interface SerialPort {
  open: (options: { baudRate: number }) => Promise<void>;
  close: () => Promise<void>;
  readable: ReadableStream<Uint8Array> | null;
}

interface Serial {
  requestPort: () => Promise<SerialPort>;
}

function serial(): Serial | undefined {
  return (navigator as Navigator & { serial?: Serial }).serial;
}

/** Whether this browser can read a cable. */
export function canReadCables(): boolean {
  return serial() !== undefined;
}

const BATCH_MS = 100;
const MOST_WAITING = 20_000;

export interface Cable {
  stop: () => Promise<void>;
}

/**
 * Reads lines from a board on a cable and hands them on in small batches. What could not be handed on is kept, and goes
 * with the next batch. `onState` tells how it goes: open, lost when the cable was pulled, closed.
 */
export async function readCable(baud: number, hand: (lines: string[]) => Promise<void>, onState: (state: "open" | "lost" | "closed") => void): Promise<Cable> {
  const port = await serial()?.requestPort();
  if (!port) throw new Error("This browser cannot read cables.");
  await port.open({ baudRate: baud });
  onState("open");
  const decoder = new TextDecoder();
  let rest = "";
  let waiting: string[] = [];
  let stopped = false;
  let busy = false;
  const reader = port.readable?.getReader();
  const flush = async () => {
    if (busy || !waiting.length) return;
    busy = true;
    const batch = waiting.slice(0, 2_000);
    try {
      await hand(batch);
      waiting = waiting.slice(batch.length);
    } catch {
      waiting = waiting.slice(-MOST_WAITING);
    } finally {
      busy = false;
    }
  };
  const timer = setInterval(() => void flush(), BATCH_MS);
  const done = (async () => {
    try {
      for (;;) {
        const got = await reader?.read();
        if (!got || got.done) break;
        const pieces = (rest + decoder.decode(got.value, { stream: true })).split(/\r\n|\r|\n/);
        rest = pieces.pop() ?? "";
        waiting.push(...pieces.filter((line) => line.trim()));
      }
    } catch {
      // the cable was pulled
    }
    clearInterval(timer);
    await flush();
    onState(stopped ? "closed" : "lost");
  })();
  return {
    stop: async () => {
      stopped = true;
      await reader?.cancel().catch(() => undefined);
      await done;
      reader?.releaseLock();
      await port.close().catch(() => undefined);
    },
  };
}
