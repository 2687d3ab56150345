/** PrimeNG's preset made from the drafting sheet's tokens (styles.css): paper, ink and petrol; thin rules, no shadows. */
import {definePreset} from '@primeuix/themes';
import base from '@primeuix/themes/aura/base';
import css from '@primeuix/themes/aura/css';
import button from '@primeuix/themes/aura/button';
import datatable from '@primeuix/themes/aura/datatable';
import dialog from '@primeuix/themes/aura/dialog';
import iconfield from '@primeuix/themes/aura/iconfield';
import inputnumber from '@primeuix/themes/aura/inputnumber';
import inputtext from '@primeuix/themes/aura/inputtext';
import menu from '@primeuix/themes/aura/menu';
import paginator from '@primeuix/themes/aura/paginator';
import ripple from '@primeuix/themes/aura/ripple';
import select from '@primeuix/themes/aura/select';
import selectbutton from '@primeuix/themes/aura/selectbutton';
import textarea from '@primeuix/themes/aura/textarea';
import togglebutton from '@primeuix/themes/aura/togglebutton';
import tooltip from '@primeuix/themes/aura/tooltip';
import virtualscroller from '@primeuix/themes/aura/virtualscroller';

const petrol = {
  50: '#edf4f4',
  100: '#dbe9ea',
  200: '#b5d0d3',
  300: '#84b0b5',
  400: '#4b8891',
  500: '#0d5966',
  600: '#0b4e5a',
  700: '#09424c',
  800: '#07343c',
  900: '#05272d',
  950: '#031a1e',
};
const flat = {shadow: 'none'};
const overlay = {
  select: {
    background: 'var(--sheet)',
    borderColor: 'var(--rule)',
    color: 'var(--ink)',
    borderRadius: '3px',
    shadow: '0 2px 0 var(--rule)',
  },
  popover: {
    background: 'var(--sheet)',
    borderColor: 'var(--rule)',
    color: 'var(--ink)',
    borderRadius: '3px',
    shadow: '0 2px 0 var(--rule)',
  },
  modal: {
    background: 'var(--sheet)',
    borderColor: 'var(--ink)',
    color: 'var(--ink)',
    borderRadius: '3px',
    shadow: 'none',
  },
};
const scheme = {
  primary: {
    color: 'var(--petrol)',
    contrastColor: 'var(--on-petrol)',
    hoverColor: 'var(--petrol)',
    activeColor: 'var(--petrol)',
  },
  highlight: {
    background: 'var(--petrol-soft)',
    focusBackground: 'var(--petrol-soft)',
    color: 'var(--ink)',
    focusColor: 'var(--ink)',
  },
  text: {
    color: 'var(--ink)',
    hoverColor: 'var(--ink)',
    mutedColor: 'var(--ink-2)',
    hoverMutedColor: 'var(--ink)',
  },
  content: {
    background: 'transparent',
    hoverBackground: 'var(--tint)',
    borderColor: 'var(--rule)',
    color: 'var(--ink)',
    hoverColor: 'var(--ink)',
  },
  formField: {
    background: 'var(--sheet)',
    disabledBackground: 'var(--tint)',
    filledBackground: 'var(--sheet)',
    borderColor: 'var(--edge)',
    hoverBorderColor: 'var(--petrol)',
    focusBorderColor: 'var(--petrol)',
    invalidBorderColor: 'var(--copper)',
    color: 'var(--ink)',
    disabledColor: 'var(--ink-2)',
    placeholderColor: 'var(--ink-2)',
    iconColor: 'var(--ink-2)',
    shadow: 'none',
  },
  overlay,
  list: {
    option: {
      focusBackground: 'var(--tint)',
      selectedBackground: 'var(--petrol-soft)',
      selectedFocusBackground: 'var(--petrol-soft)',
      color: 'var(--ink)',
      focusColor: 'var(--ink)',
      selectedColor: 'var(--ink)',
      selectedFocusColor: 'var(--ink)',
    },
  },
  navigation: {
    item: {
      focusBackground: 'var(--tint)',
      activeBackground: 'var(--tint)',
      color: 'var(--ink)',
      focusColor: 'var(--ink)',
      activeColor: 'var(--ink)',
    },
  },
  mask: {background: 'rgba(28, 42, 48, 0.45)', color: 'var(--ink)'},
};

/** Of the components that are in use, and of what they are made of: all eighty would be read before the first view. */
export const inUse = {
  button,
  datatable,
  dialog,
  iconfield,
  inputnumber,
  inputtext,
  menu,
  paginator,
  ripple,
  select,
  selectbutton,
  textarea,
  togglebutton,
  tooltip,
  virtualscroller,
};

/** The text of a sheet; its types call it a module. */
const begun = {...base, css: css as unknown as string, components: inUse};

export const sheetPreset = definePreset(begun, {
  primitive: {borderRadius: {none: '0', xs: '2px', sm: '2px', md: '3px', lg: '3px', xl: '3px'}},
  semantic: {
    primary: petrol,
    transitionDuration: '80ms',
    focusRing: {width: '2px', style: 'solid', color: 'var(--petrol)', offset: '1px', ...flat},
    formField: {paddingX: '9px', paddingY: '4px', borderRadius: '3px', focusRing: {width: '0', ...flat}},
    colorScheme: {light: scheme, dark: scheme},
  },
  components: {
    togglebutton: {
      root: {padding: '0', borderRadius: '0', fontWeight: '600'},
      content: {padding: '3px 9px', borderRadius: '0'},
      colorScheme: {
        light: {
          root: {
            background: 'transparent',
            checkedBackground: 'var(--petrol)',
            hoverBackground: 'var(--tint)',
            borderColor: 'var(--edge)',
            checkedBorderColor: 'var(--petrol)',
            color: 'var(--ink)',
            hoverColor: 'var(--ink)',
            checkedColor: 'var(--on-petrol)',
          },
          content: {checkedBackground: 'transparent', checkedShadow: 'none'},
        },
        dark: {
          root: {
            background: 'transparent',
            checkedBackground: 'var(--petrol)',
            hoverBackground: 'var(--tint)',
            borderColor: 'var(--edge)',
            checkedBorderColor: 'var(--petrol)',
            color: 'var(--ink)',
            hoverColor: 'var(--ink)',
            checkedColor: 'var(--on-petrol)',
          },
          content: {checkedBackground: 'transparent', checkedShadow: 'none'},
        },
      },
    },
    datatable: {
      headerCell: {
        padding: '4px 8px 4px 0',
        background: 'transparent',
        color: 'var(--ink-2)',
        borderColor: 'var(--rule)',
      },
      bodyCell: {padding: '7px 8px 7px 0', borderColor: 'var(--rule-2)'},
      row: {background: 'transparent', color: 'var(--ink)'},
      columnTitle: {fontWeight: '400'},
    },
    tooltip: {
      root: {
        background: 'var(--bar)',
        color: 'var(--on-bar)',
        padding: '8px 10px',
        borderRadius: '3px',
        maxWidth: '320px',
        shadow: 'none',
      },
    },
  },
});
