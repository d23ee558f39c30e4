import type { CliCommand } from './Command.ts';

export const shells = ['bash', 'zsh', 'fish'] as const;
export type Shell = (typeof shells)[number];

const shared = ['--json', '--quiet', '--unit', '--help'];
const longFlags = (c: CliCommand): string[] => [
  ...c.options.map((o) => o.flags.match(/--[\w-]+/)![0]),
  ...shared.filter((f) => f !== '--unit' || !c.unitless),
];
const choicesOf = (c: CliCommand): [string, readonly string[]][] =>
  c.options.flatMap((o) => (o.choices ? [[o.flags.match(/--[\w-]+/)![0], o.choices]] : []));

const bash = (commands: readonly CliCommand[], units: readonly string[]): string => `_jasmorphe() {
  local cur="\${COMP_WORDS[COMP_CWORD]}" prev="\${COMP_WORDS[COMP_CWORD-1]}" words=""
  if [ "$COMP_CWORD" -eq 1 ]; then
    COMPREPLY=($(compgen -W "${[...commands.map((c) => c.name), 'completion', 'help', '--version', '--help'].join(' ')}" -- "$cur"))
    return
  fi
  case "\${COMP_WORDS[1]} $prev" in
    *" --unit") words="${units.join(' ')}" ;;
${commands.flatMap((c) => choicesOf(c).map(([flag, list]) => `    "${c.name} ${flag}") words="${list.join(' ')}" ;;`)).join('\n')}
  esac
  if [ -z "$words" ] && [[ "$cur" == -* ]]; then
    case "\${COMP_WORDS[1]}" in
${commands.map((c) => `      ${c.name}) words="${longFlags(c).join(' ')}" ;;`).join('\n')}
    esac
  fi
  if [ -n "$words" ]; then COMPREPLY=($(compgen -W "$words" -- "$cur")); else COMPREPLY=($(compgen -f -- "$cur")); fi
}
complete -o filenames -F _jasmorphe jasmorphe
`;

const quote = (text: string): string => `'${text.replace(/'/g, "\\'")}'`;

const fish = (commands: readonly CliCommand[], units: readonly string[]): string =>
  [
    ...commands.map((c) => `complete -c jasmorphe -n __fish_use_subcommand -f -a ${c.name} -d ${quote(c.summary)}`),
    ...commands.flatMap((c) =>
      c.options.map((o) => {
        const flag = o.flags.match(/--([\w-]+)/)![1];
        const value = o.choices ? ` -x -a ${quote(o.choices.join(' '))}` : o.flags.includes('<') ? ' -r' : '';
        return `complete -c jasmorphe -n '__fish_seen_subcommand_from ${c.name}' -l ${flag}${value} -d ${quote(o.help)}`;
      }),
    ),
    `complete -c jasmorphe -l json -d 'one JSON object'`,
    `complete -c jasmorphe -l quiet -d 'no progress'`,
    `complete -c jasmorphe -l unit -x -a ${quote(units.join(' '))} -d 'unit of the input file'`,
    '',
  ].join('\n');

/** A script for the shell named that completes commands, options and their choices. */
export function completionScript(shell: Shell, commands: readonly CliCommand[], units: readonly string[]): string {
  if (shell === 'fish') return fish(commands, units);
  return shell === 'zsh'
    ? `autoload -U +X compinit && compinit\nautoload -U +X bashcompinit && bashcompinit\n${bash(commands, units)}`
    : bash(commands, units);
}
