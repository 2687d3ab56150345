import {TestBed} from '@angular/core/testing';
import type {Arm} from '@core/craft/craft';
import {juniper} from '@demo/craft/juniper';
import type {DrawnArm} from '@core/sheets/spin/spin-order';
import {CraftDrawingComponent, type ArmAnswer} from './craft-drawing.component';

const hex: Arm[] = [30, 90, 150, 210, 270, 330].map((degrees, i) => ({
  name: `arm ${i + 1}`,
  xMm: Math.round(160 * Math.sin((degrees * Math.PI) / 180)),
  yMm: Math.round(160 * Math.cos((degrees * Math.PI) / 180)),
}));

const octo: Arm[] = [22.5, 67.5, 112.5, 157.5, 202.5, 247.5, 292.5, 337.5].map((degrees, i) => ({
  name: `arm ${i + 1}`,
  xMm: Math.round(200 * Math.sin((degrees * Math.PI) / 180)),
  yMm: Math.round(200 * Math.cos((degrees * Math.PI) / 180)),
}));

function draw(arms: readonly Arm[], asking = false, name = 'Juniper') {
  const fixture = TestBed.createComponent(CraftDrawingComponent);
  const drawn: DrawnArm[] = arms.map((_, i) => ({
    sense: i % 2 ? 'counter-clockwise' : 'clockwise',
    label: String(i + 1),
    state: 'open',
  }));
  fixture.componentRef.setInput('name', name);
  fixture.componentRef.setInput('arms', arms);
  fixture.componentRef.setInput('drawn', drawn);
  fixture.componentRef.setInput('asking', asking);
  const answers: ArmAnswer[] = [];
  fixture.componentInstance.answered.subscribe((a) => answers.push(a));
  fixture.detectChanges();
  const host = fixture.nativeElement as HTMLElement;
  const discs = [...host.querySelectorAll('circle.disc')].map(
    (c) => ['cx', 'cy', 'r'].map((a) => Number(c.getAttribute(a))) as [number, number, number],
  );
  return {host, discs, answers};
}

describe('the drawing of a craft', () => {
  it.each([
    ['four', juniper.arms],
    ['six', hex],
  ])('%s discs stay inside the sheet and clear of each other', (_, arms) => {
    const {discs} = draw(arms);
    expect(discs).toHaveLength(arms.length);
    for (const [x, y, r] of discs) {
      expect(Math.min(x - r, y - r)).toBeGreaterThan(0);
      expect(Math.max(x + r, y + r)).toBeLessThan(452);
      for (const [x2, y2, r2] of discs)
        if (x !== x2 || y !== y2) expect(Math.hypot(x - x2, y - y2)).toBeGreaterThan(r + r2);
    }
  });

  it('draws front up and right to the right', () => {
    const [frontRight, rearRight] = draw(juniper.arms).discs;
    expect(frontRight![0]).toBeGreaterThan(226);
    expect(frontRight![1]).toBeLessThan(226);
    expect(rearRight![1]).toBeGreaterThan(226);
  });

  it('shortens a long name', () => {
    expect(draw(juniper.arms, false, 'Alder of the long orchard').host.textContent).toContain('Alder of the…');
  });

  it.each([
    ['four', juniper.arms],
    ['six', hex],
    ['eight', octo],
  ])('%s arms: no line crosses what the halves mean', (_, arms) => {
    const {host} = draw(arms, true);
    const numbers = (e: Element, names: string[]) => names.map((n) => Number(e.getAttribute(n)));
    const lines = [...host.querySelectorAll('line[stroke="var(--ink)"]')].map((e) => numbers(e, ['x2', 'y2']));
    expect(lines).toHaveLength(arms.length);
    const labels = [...host.querySelectorAll('text.side')];
    expect(labels).toHaveLength(2 * arms.length);
    for (const label of labels) {
      const [x, y] = numbers(label, ['x', 'y']) as [number, number];
      // Characters of the smallest type are 5.4 px wide at most.
      const width = label.textContent.length * 5.4;
      const left = label.classList.contains('left') ? x - width : x;
      for (const [ax, ay] of lines as [number, number][])
        for (let t = 0; t <= 1; t += 0.01) {
          const [px, py] = [226 + t * (ax - 226), 226 + t * (ay - 226)];
          // Half of an arm is 6.5 px; the hub covers its end.
          if (Math.hypot(px - ax, py - ay) < 19) continue;
          const isInside = px > left && px < left + width && py > y - 9 - 5 && py < y + 2 + 5;
          expect(isInside, `${label.textContent} at ${x}, ${y}`).toBe(false);
        }
    }
  });

  it('takes no answer unless asked', () => expect(draw(juniper.arms).host.querySelectorAll('.half')).toHaveLength(0));

  it('the clicked half says arm and sense, and so does the Enter key', () => {
    const {host, answers} = draw(juniper.arms, true);
    const halves = [...host.querySelectorAll('.half')];
    expect(halves).toHaveLength(8);
    expect(halves.map((h) => h.getAttribute('aria-label')).slice(0, 2)).toEqual([
      'front right, counter-clockwise',
      'front right, clockwise',
    ]);
    halves[1]!.dispatchEvent(new MouseEvent('click'));
    halves[4]!.dispatchEvent(new KeyboardEvent('keydown', {key: 'Enter'}));
    expect(answers).toEqual([
      {arm: 0, sense: 'clockwise'},
      {arm: 2, sense: 'counter-clockwise'},
    ]);
  });
});
