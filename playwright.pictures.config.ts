import {defineConfig} from '@playwright/test';
import base from './playwright.config';

export default defineConfig({...base, projects: [{name: 'pictures', testMatch: 'pictures.ts'}], reporter: 'line'});
