import { type ComponentType, lazy, useState } from "react";

/** A part of the application that is fetched when it is first needed. */
export class Page {
  /** Its code, once it is there. */
  loaded: ComponentType | undefined;
  /** Shows itself as soon as its code is there. */
  readonly Later = lazy(async () => ({ default: await this.get() }));
  private readonly load: () => Promise<ComponentType>;

  constructor(load: () => Promise<ComponentType>) {
    this.load = load;
  }

  /** Fetch it before it is shown; what fails is fetched again, and said, once it is. */
  async ahead(): Promise<void> {
    await this.get().catch(() => undefined);
  }

  private async get(): Promise<ComponentType> {
    this.loaded = await this.load();
    return this.loaded;
  }
}

/**
 * A page whose code is a file of its own. Once that is there the page is shown in the same picture: a page that is
 * still waited for is held back by React for a good quarter of a second, so that it does not flicker.
 */
export function ShownPage({ page }: { page: Page }) {
  const [View] = useState(() => page.loaded ?? page.Later);
  return <View />;
}
