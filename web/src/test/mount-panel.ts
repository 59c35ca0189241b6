import { DOMWrapper, flushPromises, mount, type VueWrapper } from '@vue/test-utils';
import { getActivePinia, setActivePinia, type Pinia } from 'pinia';
import type { Component } from 'vue';
import { usePlayhead } from '../stores/playhead.ts';
import { createMemoryHistory, createRouter } from 'vue-router';

/** A canvas's context that takes everything and paints nothing. */
const BLIND = new Proxy(
  {},
  { get: () => () => ({ data: new Uint8ClampedArray(4), width: 0, addColorStop: () => {} }), set: () => true },
);

/** What happy-dom lacks of a browser and the page's parts ask for. */
function fillIn(): void {
  globalThis.ResizeObserver ??= class {
    observe(): void {}
    unobserve(): void {}
    disconnect(): void {}
  };
  globalThis.IntersectionObserver ??= class {
    observe(): void {}
    unobserve(): void {}
    disconnect(): void {}
  } as never;
  // Pictures are the journeys' subject: here nothing is painted.
  globalThis.OffscreenCanvas ??= class {
    getContext(): unknown {
      return BLIND;
    }
  } as never;
  HTMLCanvasElement.prototype.getContext = (() => BLIND) as never;
  HTMLElement.prototype.scrollIntoView ??= () => {};
}

/** Until what an edit set going has been asked and answered: several requests in turn. */
export async function settled(): Promise<void> {
  for (let i = 0; i < 6; i++) await flushPromises();
  // A timer of an earlier test's stores makes those the active ones again.
  if (mounted) setActivePinia(pinia);
}

/** A panel on the page, with the stores of the shot that was opened last; found by what a person reads. */
export class Panel {
  constructor(readonly wrapper: VueWrapper) {}

  button(name: string | RegExp): DOMWrapper<Element> {
    return this.named('button', name);
  }
  /** A field by its label (the unit may be left out). */
  field(label: string | RegExp): DOMWrapper<Element> {
    return this.named('input, select, textarea', label);
  }
  async press(name: string | RegExp): Promise<void> {
    await this.button(name).trigger('click');
    await settled();
  }
  /** Types a value and presses Enter, as a person ends a number. */
  async type(label: string | RegExp, value: string): Promise<void> {
    const field = this.field(label);
    await field.setValue(value);
    await field.trigger('keydown', { key: 'Enter' });
    await settled();
  }
  async choose(label: string | RegExp, value: string): Promise<void> {
    await this.field(label).setValue(value);
    await settled();
  }
  async tick(label: string | RegExp, on = true): Promise<void> {
    await this.field(label).setValue(on);
    await settled();
  }
  /** Puts the playhead on a frame. */
  async goTo(frame: number): Promise<void> {
    usePlayhead().goTo(frame);
    await settled();
  }
  /** Types into the dialog of that title and sends it off. */
  async dialog(title: string, name: string): Promise<void> {
    const dialog = this.all('.modal').find((one) => one.text().startsWith(title));
    if (!dialog) throw new Error(`No dialog ${title}`);
    await dialog.get('input').setValue(name);
    await dialog.get('form').trigger('submit');
    await settled();
  }
  has(name: string | RegExp): boolean {
    return this.all('button, input, select, textarea, a').some((one) => fits(nameOf(one), name));
  }
  get text(): string {
    return document.body.textContent.replace(/\s+/g, ' ');
  }
  /** Teleported dialogs are part of what is seen. */
  private all(selector: string): DOMWrapper<Element>[] {
    return [...document.body.querySelectorAll(selector)].map((one) => new DOMWrapper(one));
  }
  private named(selector: string, name: string | RegExp): DOMWrapper<Element> {
    const all = this.all(selector);
    const found = all.find((one) => fits(nameOf(one), name));
    if (!found) throw new Error(`No ${selector} named ${String(name)}; there are ${all.map(nameOf).join(' | ')}`);
    return found;
  }
}

const clean = (text: string | null | undefined): string => (text ?? '').replace(/\s+/g, ' ').trim();

/** The name that a person (or a screen reader) knows a control by. */
function nameOf(one: DOMWrapper<Element>): string {
  const element = one.element as HTMLInputElement;
  // happy-dom counts a label more than once where it both holds a field and names it.
  const labels = [...new Set(element.labels)].map((label) => clean(label.textContent));
  return clean(element.getAttribute('aria-label')) || labels.join(' ') || clean(element.textContent);
}

const fits = (name: string, wanted: string | RegExp): boolean =>
  typeof wanted === 'string' ? name === wanted || name.startsWith(`${wanted}, `) : wanted.test(name);

let mounted: VueWrapper | null = null;
let pinia: Pinia;

/** Takes the panel that is on the page away. */
export function leavePage(): void {
  mounted?.unmount();
  mounted = null;
}

/** Mounts a panel for the shot that `openShot` opened, or a page at its address. */
export async function mountPanel(component: Component, props: Record<string, unknown> = {}, at = '/'): Promise<Panel> {
  fillIn();
  leavePage();
  document.body.innerHTML = '';
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [
      { path: '/projects/:id', component: { render: () => null } },
      { path: '/shots/:id/:step?', component: { render: () => null } },
      { path: '/:rest(.*)', component: { render: () => null } },
    ],
  });
  await router.push(at);
  pinia = getActivePinia()!;
  const wrapper = mount(component, {
    props,
    attachTo: document.body,
    global: { plugins: [pinia, router] },
  });
  mounted = wrapper;
  await settled();
  return new Panel(wrapper as VueWrapper);
}
