import type { Change, Variant } from '@zesty-crow/core';
import type { WebDriver } from 'selenium-webdriver';
import type { Figure, Tell } from '../../../core/bench/report.ts';
import { DRAG, MEMORY } from './page-scripts.ts';
import type { BrowserBench } from './size.ts';

/** Milliseconds since a page was asked for. */
export interface Opening {
  drawn: number;
  ready: number;
  first: number;
  long: [start: number, duration: number][];
}

export const quantile = (values: number[], q: number): number =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(values.length * q))]!;

/** A shot at one size in a browser, and how its figures are told. */
export class Stage {
  constructor(
    readonly bench: BrowserBench,
    readonly driver: WebDriver,
    readonly tell: Tell,
    private readonly address: string,
    /** Width and height of the frame, as every figure's name begins with. */
    private readonly size: string,
    /** Puts other changes into the shot. */
    readonly put: (changes: Change[], variants?: Variant[]) => Promise<unknown>,
    /** Waits until the server has nothing left to do. */
    readonly idle: () => Promise<void>,
  ) {}

  /** A figure that is better when it is less. */
  figure(name: string, value: number, unit: string, against: string, goal?: number): Figure {
    const named = { name: `${this.size}: ${name}`, value, unit, better: 'less' as const, against };
    return goal === undefined ? named : { ...named, goal };
  }

  /** Tells milliseconds. */
  tellMs(name: string, value: number, against: string, goal?: number): void {
    this.tell(this.figure(name, value, 'ms', against, goal));
  }

  /** Opens the shot anew and waits until its picture is read. */
  async open(): Promise<Opening> {
    const { driver } = this;
    await driver.get('about:blank');
    await driver.get(this.address);
    const read = () => driver.executeScript<Opening>('return window.bench');
    await driver.wait(async () => (await read()).ready > 0, 120_000, 'the picture was not read');
    return read();
  }

  /** Drags a slider: when each step's first new pixels, and all of them, were drawn. */
  async drag(steps: number, label: string, way: number): Promise<{ first: number[]; all: number[] }> {
    const times = await this.driver.executeAsyncScript<[number, number][]>(DRAG, steps, label, way);
    return { first: times.map((s) => s[0]), all: times.map((s) => s[1]) };
  }

  async saved(): Promise<void> {
    await this.driver.wait(
      () =>
        this.driver.executeScript(
          `return document.querySelector('.saving').textContent.includes('All saved')`,
        ),
      20_000,
    );
  }

  /** Bytes that the page holds; 0 where memory is not measured. */
  memory(): Promise<number> {
    return this.bench.memory ? this.driver.executeAsyncScript<number>(MEMORY) : Promise.resolve(0);
  }
}
