import { inject } from '@angular/core';
import { MatIconRegistry } from '@angular/material/icon';
import { DomSanitizer } from '@angular/platform-browser';
import call from 'lucide-static/icons/phone.svg';
import email from 'lucide-static/icons/mail.svg';
import text from 'lucide-static/icons/message-circle.svg';
import meeting from 'lucide-static/icons/users.svg';
import visit from 'lucide-static/icons/map-pin.svg';
import other from 'lucide-static/icons/circle-dot.svg';
import note from 'lucide-static/icons/pencil-line.svg';
import system from 'lucide-static/icons/arrow-right-left.svg';
import close from 'lucide-static/icons/x.svg';
import search from 'lucide-static/icons/search.svg';
import person from 'lucide-static/icons/user-round.svg';
import pin from 'lucide-static/icons/pin.svg';
import fold from 'lucide-static/icons/chevrons-left.svg';
import unfold from 'lucide-static/icons/chevrons-right.svg';
import open from 'lucide-static/icons/maximize-2.svg';
import plus from 'lucide-static/icons/plus.svg';
import up from 'lucide-static/icons/arrow-up.svg';
import down from 'lucide-static/icons/arrow-down.svg';
import grip from 'lucide-static/icons/grip-vertical.svg';
import clock from 'lucide-static/icons/clock.svg';
import more from 'lucide-static/icons/ellipsis-vertical.svg';
import right from 'lucide-static/icons/arrow-right.svg';
import bell from 'lucide-static/icons/bell.svg';
import company from 'lucide-static/icons/building-2.svg';
import deal from 'lucide-static/icons/handshake.svg';
import file from 'lucide-static/icons/paperclip.svg';
import undo from 'lucide-static/icons/undo-2.svg';
import keys from 'lucide-static/icons/keyboard.svg';
import home from 'lucide-static/icons/layout-grid.svg';
import round from 'lucide-static/icons/list-checks.svg';
import cadence from 'lucide-static/icons/list-ordered.svg';
import calendar from 'lucide-static/icons/calendar-days.svg';
import renewal from 'lucide-static/icons/refresh-cw.svg';
import numbers from 'lucide-static/icons/chart-no-axes-column.svg';
import task from 'lucide-static/icons/square-check.svg';
import settings from 'lucide-static/icons/settings.svg';
import leave from 'lucide-static/icons/log-out.svg';

const icons = {
  call,
  email,
  text,
  meeting,
  visit,
  other,
  note,
  system,
  close,
  search,
  person,
  pin,
  fold,
  unfold,
  open,
  plus,
  up,
  down,
  grip,
  clock,
  keys,
  more,
  right,
  bell,
  company,
  deal,
  file,
  undo,
  home,
  round,
  cadence,
  calendar,
  renewal,
  numbers,
  task,
  settings,
  leave,
};

/** Makes the icons that ship with the application known, by the word they stand for. Where things are injected. */
export function registerIcons(): void {
  const registry = inject(MatIconRegistry);
  const sanitizer = inject(DomSanitizer);
  for (const [name, svg] of Object.entries(icons))
    registry.addSvgIconLiteral(
      name,
      sanitizer.bypassSecurityTrustHtml(svg.replace(/<!--.*?-->/s, '').trim()),
    );
}
