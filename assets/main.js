/* Behaviour that all pages share, one file each. Pages work without it; with it they are quicker to use. */
import './behaviour/address-tape.js';
import './behaviour/cards.js';
import './behaviour/connection.js';
import './behaviour/copy.js';
import './behaviour/keys.js';
import './behaviour/leave.js';
import './behaviour/matrix.js';
import './behaviour/file.js';
import './behaviour/photo.js';
import './behaviour/progress.js';
import './behaviour/refresh.js';
import './behaviour/scanner.js';
import './behaviour/spreadsheet.js';
import './behaviour/stage-bar.js';
import './behaviour/steps.js';
import './behaviour/theme.js';
import './behaviour/timers.js';
