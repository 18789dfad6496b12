import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Hurry } from './hurry';

describe('whether a list flies past faster than it can be read', () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  it('is said of the second leap within moments, and ends with rest', () => {
    const rest = vi.fn();
    const hurry = new Hurry(rest);
    expect(hurry.moved(50, 30, 1000)).toBe(false);
    expect(hurry.moved(100, 30, 1016)).toBe(true);
    vi.advanceTimersByTime(90);
    expect(hurry.moved(150, 30, 1106)).toBe(true);
    vi.advanceTimersByTime(90);
    expect(rest).not.toHaveBeenCalled();
    vi.advanceTimersByTime(20);
    expect(rest).toHaveBeenCalledTimes(1);
    expect(hurry.moved(152, 30, 1220)).toBe(false);
  });

  it('is not said of a leap by itself, nor of rows that move through the window', () => {
    const hurry = new Hurry(() => undefined);
    expect(hurry.moved(99_000, 30, 1000)).toBe(false);
    expect(hurry.moved(0, 30, 1200)).toBe(false);
    for (let frame = 1; frame < 20; frame++)
      expect(hurry.moved(frame * 29, 30, 1200 + frame * 16)).toBe(false);
  });

  it('stays while the list slows down, until it rests', () => {
    const hurry = new Hurry(() => undefined);
    hurry.moved(50, 30, 1000);
    hurry.moved(100, 30, 1016);
    expect(hurry.moved(104, 30, 1032)).toBe(true);
    vi.advanceTimersByTime(100);
    expect(hurry.moved(106, 30, 1132)).toBe(false);
  });

  it('tells nobody of a rest once it was stopped', () => {
    const rest = vi.fn();
    const hurry = new Hurry(rest);
    hurry.moved(50, 30, 1000);
    hurry.moved(100, 30, 1016);
    hurry.stop();
    vi.runAllTimers();
    expect(rest).not.toHaveBeenCalled();
  });
});
