import { IsIn, IsOptional, Matches } from 'class-validator';

const clock = /^([01]\d|2[0-3]):[0-5]\d$/;
const IsClock = (name: string, example: string) =>
  Matches(clock, { message: `${name} must be a time such as ${example}` });

/** What goes on at night. */
export const nightRules = ['run', 'rest', 'tended'] as const;
export type NightRule = (typeof nightRules)[number];

export const nightRuleNames: Record<NightRule, string> = {
  run: 'What was begun by day prints on',
  rest: 'Nothing prints',
  tended: 'Beds are changed too',
};

/** When a person is there, by the clock of the workshop. Until may be past midnight; from and until alike: nobody is. */
export class HomeHours {
  @IsOptional()
  @IsClock('weekdayFrom', '07:30')
  weekdayFrom: string = '17:00';

  @IsOptional()
  @IsClock('weekdayTo', '22:00')
  weekdayTo: string = '22:00';

  @IsOptional()
  @IsClock('weekendFrom', '09:00')
  weekendFrom: string = '09:00';

  @IsOptional()
  @IsClock('weekendTo', '22:00')
  weekendTo: string = '22:00';

  @IsOptional()
  @IsIn(nightRules)
  nights: NightRule = 'run';

  @IsOptional()
  @IsClock('nightFrom', '22:30')
  nightFrom: string = '22:30';

  @IsOptional()
  @IsClock('nightTo', '07:00')
  nightTo: string = '07:00';
}
