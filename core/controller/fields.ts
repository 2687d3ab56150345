/** The planned fields of a flight controller as they are shown, and where two configurations differ. */
import {definedFields, definitions, type FieldDefinition} from './definitions';
import {optionalFields, type ControllerFields, type ControllerPlan} from './plan';

export interface ControllerDifference {
  readonly field: keyof ControllerPlan;
  readonly from: string;
  readonly to: string;
}

export const controllerFieldName = (field: keyof ControllerPlan): string => definitions[field].name;

export const controllerFields: readonly {readonly field: keyof ControllerPlan; readonly name: string}[] =
  definedFields.map((field) => ({field, name: controllerFieldName(field)}));

export const formatControllerField = <F extends keyof ControllerPlan>(
  field: F,
  value: NonNullable<ControllerPlan[F]>,
): string => (definitions[field] as FieldDefinition<NonNullable<ControllerPlan[F]>>).text(value);

/** Fields in which two configurations differ, as they are shown. One that either does not have is no difference. */
export const controllerDifferences = (from: ControllerFields, to: ControllerFields): ControllerDifference[] =>
  controllerFields.flatMap(({field}) => {
    const [a, b] = [from[field], to[field]];
    if (a === undefined || b === undefined) return [];
    const [was, is] = [formatControllerField(field, a), formatControllerField(field, b)];
    return was === is ? [] : [{field, from: was, to: is}];
  });

/** Planned fields that the firmware of a flight controller does not have. */
export const lackedFields = (config: ControllerFields, plan: ControllerPlan): readonly (keyof ControllerPlan)[] =>
  optionalFields.filter((field) => config[field] === undefined && plan[field] !== undefined);
