/** The address: `/` lists sessions, `/s/ID` opens one. */
class Place {
  path = $state(location.pathname);

  constructor() {
    addEventListener('popstate', () => (this.path = location.pathname));
  }

  get sessionId(): string | undefined {
    return /^\/s\/([0-9a-f-]{36})$/.exec(this.path)?.[1];
  }

  go(path: string): void {
    history.pushState(null, '', path);
    this.path = path;
  }
}

export const place = new Place();
