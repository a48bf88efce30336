/**
 * Asking for the report of a plan that hardly changes: it is sent once, and after that only the
 * records that are not as they were. A server that does not know it any more is sent it again.
 */

import { api, ask, Failure, type Schemas } from '../api/client';
import { parted, type Question } from './plan';

type Plan = Schemas['Plan'];
type Report = Schemas['ShotAnswer'];

/** So many records may have changed before the whole plan is sent anew. */
const MOST_CHANGED = 12;

/** A plan as it was sent: its records as text, in their order. */
type Sent = {
  name: string;
  shot: string;
  plates: Map<string, string>;
  standIns: Map<string, string>;
  /** The kit, and what is filmed from the same set-ups in other shots. */
  rest: string;
};

const texts = (rows: readonly { id: string }[]) =>
  new Map(rows.map((row) => [row.id, JSON.stringify(row)]));
const restOf = (plan: Plan) => {
  const rest: Partial<Plan> = { ...plan };
  for (const own of ['shot', 'plates', 'stand_ins'] as const) delete rest[own];
  return JSON.stringify(rest);
};

/** The rows that are not as they were sent; null where others came, went or changed places. */
function changed<T extends { id: string }>(sent: Map<string, string>, rows: T[]): T[] | null {
  const ids = [...sent.keys()];
  if (rows.length !== ids.length || rows.some((row, i) => row.id !== ids[i])) return null;
  return rows.filter((row) => JSON.stringify(row) !== sent.get(row.id));
}

export class Asking {
  #sent: Sent | null = null;

  /** The report of a plan, as it is asked about. */
  async ask(question: Question): Promise<Report> {
    const { plan, look } = parted(question);
    const changes = this.#changes(plan);
    if (changes && this.#sent) {
      try {
        return await this.#post({ ...look, kept: this.#sent.name, changes });
      } catch (error) {
        if (!(error instanceof Failure) || error.status !== 412) throw error;
      }
    }
    const none = { plates: [], stand_ins: [] };
    const report = await this.#post({ ...look, kept: '', plan, changes: none });
    this.#sent = {
      name: report.kept ?? '',
      shot: JSON.stringify(plan.shot),
      plates: texts(plan.plates ?? []),
      standIns: texts(plan.stand_ins ?? []),
      rest: restOf(plan),
    };
    return report;
  }

  async #post(body: Schemas['KeptQuestion']): Promise<Report> {
    const found = await ask(() => api.POST('/api/calc/kept', { body }));
    // The client's types widen pairs of numbers to lists; they are pairs.
    return found as Report;
  }

  /** What has changed since the plan was sent; null where it has to be sent anew. */
  #changes(plan: Plan): Schemas['Changes'] | null {
    const sent = this.#sent;
    if (!sent?.name || restOf(plan) !== sent.rest) return null;
    const plates = changed(sent.plates, plan.plates ?? []);
    const standIns = changed(sent.standIns, plan.stand_ins ?? []);
    if (!plates || !standIns || plates.length + standIns.length > MOST_CHANGED) return null;
    const shot = JSON.stringify(plan.shot) === sent.shot ? null : plan.shot;
    return { shot, plates, stand_ins: standIns };
  }
}

/** A report laid over the last one: where `others` were not asked for, they stay as they were told,
 * and so do workings that were not asked for. */
export function joined(last: Report | null, found: Report, others: boolean): Report {
  if (!last) return found;
  const before = new Map(last.plates.map((plate) => [plate.plate_id, plate]));
  const now = new Map(
    found.plates.map((plate) => [plate.plate_id, withWorkings(before.get(plate.plate_id), plate)]),
  );
  const plates = others
    ? [...now.values()]
    : last.plates.map((plate) => now.get(plate.plate_id) ?? plate);
  if (others) return { ...found, plates };
  // How far arms reach is drawn for every plate; the lines of the shot come with each report.
  const told = new Set(found.marks.filter((m) => m.role === 'reach').map((m) => m.of));
  const reaches = last.marks.filter((m) => m.role === 'reach' && !told.has(m.of));
  return { ...found, plates, marks: [...reaches, ...found.marks] };
}

function withWorkings(
  last: Schemas['PlateAnswer'] | undefined,
  plate: Schemas['PlateAnswer'],
): Schemas['PlateAnswer'] {
  if (!last || Object.keys(plate.workings).length > 0) return plate;
  const before = new Map(last.findings.map((finding) => [finding.key, finding.workings]));
  const findings = plate.findings.map((finding) => ({
    ...finding,
    workings: finding.workings?.length ? finding.workings : (before.get(finding.key) ?? []),
  }));
  return { ...plate, findings, workings: last.workings };
}
