<?php

declare(strict_types=1);

namespace ZapTrace\Record;

/**
 * The record for the owner as Markdown text.
 */
final readonly class MarkdownRecord
{
    public function __construct(private OwnerRecord $record)
    {
    }

    /**
     * @param  array<string, string>  $head  what stands at the top: name => value
     */
    public function text(string $machine, string $symptom, array $head): string
    {
        $lines = ['# '.$this->plain($machine), ''];
        foreach ($head as $name => $value) {
            $lines[] = "- {$name}: ".$this->plain($value);
        }
        array_push($lines, '', '## Complaint', '', $symptom === '' ? 'None noted.' : $this->plain($symptom));
        $this->section($lines, 'Found', $this->record->found, 'Nothing was found.');
        $this->section($lines, 'Done', array_map(fn (array $done): string => "{$done['site']}".($done['part'] === '' ? '' : " ({$done['part']})")." {$done['what']}".($done['why'] === [] ? '' : ', because '.implode('; ', $done['why'])).'.', $this->record->done), 'Nothing was changed.');
        $this->section($lines, 'Tested', array_map(static fn (array $test): string => "{$test['name']}: {$test['result']}", $this->record->tested), 'Nothing was tested yet.');
        $this->section($lines, 'What remains', $this->record->remains, 'Nothing that is known.');
        $this->section($lines, 'Borrowed', $this->record->borrowed, 'Nothing is borrowed.');

        return implode("\n", $lines)."\n";
    }

    /**
     * @param  list<string>  $lines
     * @param  list<string>  $entries
     */
    private function section(array &$lines, string $title, array $entries, string $none): void
    {
        array_push($lines, '', "## {$title}", '');
        array_push($lines, ...($entries === [] ? [$none] : array_map(fn (string $entry): string => '- '.$this->plain($entry), $entries)));
    }

    /** What a person typed must not become markup. */
    private function plain(string $text): string
    {
        return (string) preg_replace('/([\\\\`*_{}\[\]<>#|])/', '\\\\$1', trim((string) preg_replace('/\s+/', ' ', $text)));
    }
}
