// npm run build: the application as npm start and npm test build it.
import {buildApplication, installPackages} from './setup.mjs';

installPackages();
buildApplication();
