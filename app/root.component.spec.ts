import {ChangeDetectionStrategy, Component, provideZonelessChangeDetection, signal} from '@angular/core';
import {TestBed} from '@angular/core/testing';
import {NavigationEnd, provideRouter, Router} from '@angular/router';
import {RootComponent} from './root.component';

@Component({
  template: '<button [disabled]="true">{{ text() }}</button>',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
class ViewComponent {
  protected readonly text = signal('filled');
}

describe('the view that the address names', () => {
  it('is filled in the step that creates it: no button of it is ever open that must not be', async () => {
    TestBed.configureTestingModule({
      providers: [provideZonelessChangeDetection(), provideRouter([{path: 'view', component: ViewComponent}])],
    });
    const fixture = TestBed.createComponent(RootComponent);
    await fixture.whenStable();
    const host = fixture.nativeElement as HTMLElement;
    const router = TestBed.inject(Router);
    const seen: string[] = [];
    // Asked later than the root, in the same step.
    router.events.subscribe((event) => {
      if (!(event instanceof NavigationEnd)) return;
      const button = host.querySelector('button');
      seen.push(`${button?.textContent}, ${button?.disabled ? 'closed' : 'open'}`);
    });
    await router.navigateByUrl('/view');
    expect(seen).toEqual(['filled, closed']);
  });
});
