/**
 * The browser's storage for changes that wait: a record for each account, session and tab. A tab holds a lock for as long as it
 * lives; whoever gets the lock of another tab knows that it died, and takes its changes over, once.
 */
import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import type { Keep, Waiting } from './types';

const NAME = 'zealous-lane';
/** What the records look like; others are left alone. */
const FORMAT = 1;

interface Left {
  format: number;
  account: string;
  session: string;
  tab: string;
  waiting: Waiting[];
}

interface Schema extends DBSchema {
  waiting: { key: [string, string, string]; value: Left; indexes: { session: [string, string] } };
}

const lockOf = (tab: string) => `zealous-lane tab ${tab}`;

export class Storage implements Keep {
  readonly tab = crypto.randomUUID();
  private alive: () => void = () => {};
  private last: Promise<void> = Promise.resolve();

  private constructor(
    private readonly db: IDBPDatabase<Schema>,
    private readonly account: string,
    private readonly session: string,
  ) {}

  /** Opens the storage and says that this tab lives. Fails where the browser gives none. */
  static async open(account: string, session: string): Promise<Storage> {
    const db = await openDB<Schema>(NAME, 1, {
      upgrade(fresh) {
        const store = fresh.createObjectStore('waiting', { keyPath: ['account', 'session', 'tab'] });
        store.createIndex('session', ['account', 'session']);
      },
      // Another tab runs a newer program; its storage comes first.
      blocking: () => db.close(),
    });
    const storage = new Storage(db, account, session);
    await storage.live();
    return storage;
  }

  private live(): Promise<void> {
    return new Promise((held) => {
      void navigator.locks.request(lockOf(this.tab), () => {
        held();
        return new Promise<void>((done) => (this.alive = done));
      });
    });
  }

  /** One after the other, so that an older list never stands over a newer one. */
  save(waiting: Waiting[]): Promise<void> {
    const { account, session, tab } = this;
    const write = async () => {
      if (waiting.length === 0) await this.db.delete('waiting', [account, session, tab]);
      else await this.db.put('waiting', { format: FORMAT, account, session, tab, waiting }, undefined);
    };
    this.last = this.last.then(write, write);
    return this.last;
  }

  /** What dead tabs of this account and session left, the oldest first; it is this tab's from now on. */
  async takeOver(): Promise<Waiting[]> {
    const taken: Waiting[] = [];
    for (const left of await this.others())
      await navigator.locks.request(lockOf(left.tab), { ifAvailable: true }, async (lock) => {
        if (lock) taken.push(...(await this.move(left.tab)));
      });
    return taken.sort((a, b) => a.at - b.at);
  }

  /** Calls `take` with what each tab that lives now leaves when it dies with changes that still wait. */
  async watch(take: (left: Waiting[]) => void, stop: AbortSignal): Promise<void> {
    for (const left of await this.others())
      navigator.locks
        .request(lockOf(left.tab), { signal: stop }, async () => {
          const waiting = await this.move(left.tab);
          if (waiting.length > 0) take(waiting);
        })
        .catch(() => undefined);
  }

  private async others(): Promise<Left[]> {
    const all = await this.db.getAllFromIndex('waiting', 'session', [this.account, this.session]);
    return all.filter((left) => left.tab !== this.tab && left.format === FORMAT);
  }

  /** Moves a dead tab's changes into this tab's record: in one transaction, so that they are in one of both. */
  private async move(tab: string): Promise<Waiting[]> {
    const { account, session } = this;
    const tx = this.db.transaction('waiting', 'readwrite');
    const left = await tx.store.get([account, session, tab]);
    if (left) {
      const own = await tx.store.get([account, session, this.tab]);
      const waiting = [...(own?.waiting ?? []), ...left.waiting];
      await tx.store.put({ format: FORMAT, account, session, tab: this.tab, waiting });
      await tx.store.delete([account, session, tab]);
    }
    await tx.done;
    return left?.waiting ?? [];
  }

  /** Lets go of the tab's lock; what still waits may be taken over. */
  async close(): Promise<void> {
    await this.last.catch(() => undefined);
    this.alive();
    this.db.close();
  }
}
