import {ChangeDetectionStrategy, Component, computed, inject, signal} from '@angular/core';
import {plannedFor, type PlannedValue} from '@core/craft/craft';
import {unavailableReason} from '@core/settings/availability';
import {
  isLayoutRevision,
  parameterDefinitions,
  type LayoutRevision,
  type ParameterDefinition,
} from '@core/settings/definitions';
import {identityOf} from '@core/work/planned-image';
import {judgeParameter, type Verdict} from '@core/work/difference';
import {ConnectComponent} from '../../shared/connect.component';
import {FleetStore} from '../../state/fleet.store';
import {RecordStore} from '../../state/record.store';
import {ShelfStore} from '../../state/shelf.store';
import {DotStripComponent} from './dot-strip.component';
import {ParameterEditorComponent} from './parameter-editor.component';

const verdictTags: Record<Verdict['kind'], string> = {
  'as planned': 'quiet',
  differs: 'tag diff',
  'moves together': 'tag plan',
  'expected spread': 'tag ok',
  unknown: 'quiet',
};

/** Parameters station: each parameter's plan against the values found, motor by motor. */
@Component({
  selector: 'bx-parameters',
  imports: [ConnectComponent, DotStripComponent, ParameterEditorComponent],
  templateUrl: './parameters.component.html',
  styleUrl: './parameters.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ParametersComponent {
  protected readonly fleet = inject(FleetStore);
  protected readonly record = inject(RecordStore);
  private readonly shelf = inject(ShelfStore);
  protected readonly tags = verdictTags;
  protected readonly onlyDiffering = signal(false);
  protected readonly explained = signal<string | undefined>(undefined);

  /** Settings layout of the planned firmware, or of what was found while its image is not at hand. */
  private readonly layout = computed((): LayoutRevision | undefined => {
    const craft = this.fleet.current()!;
    const found = this.record.found()?.escs.find((e) => e.hardware);
    this.shelf.images();
    const planned = found?.hardware && this.shelf.imageFor(craft)(found.hardware, 'base');
    const layout = planned
      ? identityOf(planned.image, found.hardware.chip, 'base')?.layoutRevision
      : found?.identity?.layoutRevision;
    return layout !== undefined && isLayoutRevision(layout) ? layout : undefined;
  });

  protected readonly rows = computed(() => {
    const craft = this.fleet.current()!;
    const found = this.record.found();
    const layout = this.layout();
    return parameterDefinitions.map((definition) => {
      const planned = craft.plan.parameters[definition.key];
      const motors = craft.arms.map((_, output) => output);
      return {
        definition,
        planned,
        values: motors.map((o) => found?.escs.find((e) => e.output === o)?.settings?.values[definition.key]),
        wanted: motors.map((o) => plannedFor(planned, o)),
        verdict: judgeParameter(definition, craft, found),
        unavailable: layout === undefined ? undefined : unavailableReason(definition, layout),
      };
    });
  });
  protected readonly shown = computed(() =>
    this.onlyDiffering()
      ? this.rows().filter((r) => r.verdict.kind === 'differs' || r.verdict.kind === 'moves together')
      : this.rows(),
  );
  protected readonly differing = computed(
    () => this.rows().filter((r) => r.verdict.kind === 'differs' || r.verdict.kind === 'moves together').length,
  );
  protected readonly motors = computed(() => this.fleet.current()!.arms.length);

  protected set(definition: ParameterDefinition, value: PlannedValue): void {
    this.fleet.setParameter(definition.key, value);
  }

  protected explain(key: string): void {
    this.explained.update((open) => (open === key ? undefined : key));
  }
}
