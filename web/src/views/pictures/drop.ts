import { send, unwrap, client } from "../../api/client";

/** So much of each file leaves the browser. */
const HEAD = 512 * 1024;
const isSidecar = (name: string) => name.toLowerCase().endsWith(".xmp");

export interface Dropped {
  path: string;
  file: File;
}

async function filesIn(entry: FileSystemEntry, above: string): Promise<Dropped[]> {
  if (entry.isFile) {
    const file = await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject));
    return [{ path: above + entry.name, file }];
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  const found: Dropped[] = [];
  // A reader gives a hundred at a time, then none.
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
    if (some.length === 0) return found;
    for (const one of some) found.push(...(await filesIn(one, `${above}${entry.name}/`)));
  }
}

/** The files of a drop, those in folders too. */
export async function droppedIn(transfer: DataTransfer): Promise<Dropped[]> {
  // To be taken before anything is waited for: the browser forgets them.
  const entries = [...transfer.items].map((item) => item.webkitGetAsEntry()).filter((one) => one !== null);
  if (entries.length === 0) return [...transfer.files].map((file) => ({ path: file.name, file }));
  const all = await Promise.all(entries.map((entry) => filesIn(entry, "")));
  return all.flat();
}

/** Sends the head of each file; answers the number of the folder that they went to. */
export async function sendHeads(
  files: readonly Dropped[],
  signal: AbortSignal,
  progress: (done: number) => void,
): Promise<number> {
  const { number } = unwrap(await client.POST("/api/v1/log/drops"));
  let done = 0;
  const waiting = [...files];
  const worker = async () => {
    for (let next = waiting.shift(); next && !signal.aborted; next = waiting.shift()) {
      const { path, file } = next;
      const head = JSON.stringify({ name: path, size: file.size }) + "\n";
      const part = isSidecar(path) ? file : file.slice(0, HEAD);
      await send(`/api/v1/log/drops/${number}/files`, new Blob([head, part]), "application/octet-stream", signal);
      done += 1;
      progress(done);
    }
  };
  await Promise.all([worker(), worker()]);
  return number;
}
