/** Steps whose code an order loads when it comes to them, loaded beforehand: virtual time does not wait for a file. */
import '@core/run/steps/measure-motion';
import '@core/run/steps/put-settings-back';
