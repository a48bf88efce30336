/** Files as they were dropped, gathered into pictures: a clip or a still is one by itself, numbered
 * stills are one sequence. */

export type Group = { name: string; files: File[] };

/** Fewer numbered stills than this were taken one by one. */
const FEWEST = 5;
/** Raw stills end in many ways; clips in these. */
const CLIPS = /\.(mp4|m4v|mov|mkv|webm|avi|mxf|mts|m2ts|ts|mpe?g|3gp|wmv|flv|ogv|wav)$/i;
/** What stands before the last number, the number, and what stands behind it. */
const NUMBERED = /^(.*?)(\d+)(\D*\.[^.]+)$/;
/** What cameras and computers lay beside pictures. */
const BESIDE = /^(\.|thumbs\.db$|desktop\.ini$)/i;

/** Numbered stills with the same words around their number belong together, in the order of their
 * numbers. */
export function grouped(files: File[]): Group[] {
  const found: Group[] = [];
  const rows = new Map<string, { number: number; file: File }[]>();
  for (const file of files.filter((f) => !BESIDE.test(f.name) && f.size > 0)) {
    const parts = CLIPS.test(file.name) ? null : NUMBERED.exec(file.name);
    if (!parts) {
      found.push({ name: bare(file.name), files: [file] });
      continue;
    }
    const [, head = '', number = '', tail = ''] = parts;
    const folder = file.webkitRelativePath?.split('/').slice(0, -1).join('/') ?? '';
    const key = `${folder}/${head}#${tail.toLowerCase()}`;
    rows.set(key, [...(rows.get(key) ?? []), { number: Number(number), file }]);
  }
  for (const row of rows.values()) {
    row.sort((a, b) => a.number - b.number);
    const of = row.map((one) => one.file);
    if (row.length < FEWEST) {
      found.push(...of.map((file) => ({ name: bare(file.name), files: [file] })));
    } else {
      found.push({ name: called(of, row.length), files: of });
    }
  }
  return found;
}

/** What is said of files with nothing in them, which are left out; empty where there are none. */
export function leftOut(files: File[]): string {
  const none = files.filter((f) => !BESIDE.test(f.name) && f.size === 0).map((f) => f.name);
  if (none.length === 0) return '';
  const [one] = none;
  return none.length === 1
    ? `${one} is empty, 0 bytes, and was left out: copy it from the card once more.`
    : `${none.length} files are empty, 0 bytes, and were left out: copy them from the card once more (${none.slice(0, 3).join(', ')}${none.length > 3 ? ' and more' : ''}).`;
}

/** Every file a picture by itself, whatever their numbers say. */
export function oneByOne(groups: Group[]): Group[] {
  return groups.flatMap((group) =>
    group.files.map((file) => ({ name: bare(file.name), files: [file] })),
  );
}

function called(files: File[], count: number): string {
  const first = bare(files[0]?.name ?? '');
  const folder = files[0]?.webkitRelativePath?.split('/').at(-2);
  return folder ? `${folder} (${count} pictures)` : `${first} and on (${count} pictures)`;
}

/** A name without its ending, as long as a name may be. */
export function bare(name: string): string {
  return (name.replace(/\.[^.]+$/, '') || name).slice(0, 120);
}

/** `1.2 GB`, `340 MB`, `12 kB`. */
export function bytes(size: number): string {
  if (size >= 1e9) return `${(size / 1e9).toFixed(1)} GB`;
  if (size >= 1e6) return `${Math.round(size / 1e6)} MB`;
  return `${Math.max(Math.round(size / 1e3), 1)} kB`;
}

/** Everything that was dropped, folders opened. */
export async function dropped(data: DataTransfer): Promise<File[]> {
  const entries = [...data.items]
    .map((item) => item.webkitGetAsEntry?.() ?? null)
    .filter((entry) => entry !== null);
  if (!entries.some((entry) => entry.isDirectory)) return [...data.files];
  const found: File[] = [];
  for (const entry of entries) found.push(...(await within(entry)));
  return found;
}

async function within(entry: FileSystemEntry): Promise<File[]> {
  if (entry.isFile) {
    return [
      await new Promise<File>((resolve, reject) =>
        (entry as FileSystemFileEntry).file(resolve, reject),
      ),
    ];
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  const found: File[] = [];
  // A folder is read a hundred at a time.
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((resolve, reject) =>
      reader.readEntries(resolve, reject),
    );
    if (some.length === 0) return found;
    for (const one of some) found.push(...(await within(one)));
  }
}
