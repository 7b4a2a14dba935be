import { Moon, Sun } from 'lucide-react';
import { Link } from 'react-router';
import { Button, cn } from '../ui';
import { chooseTheme, useTheme } from '../ui/theme';
import { useWorkshopTheme } from './useWorkshopTheme';

/** Head of the pages outside a job. */
export function PageHead({ current }: { current: 'bench' | 'boards' | 'parts' | 'practice' | 'workshop' }) {
    const theme = useTheme();
    useWorkshopTheme();
    const link = (name: string) =>
        cn('border-b-[3px] border-transparent py-3 hover:border-rule', current === name && 'border-ink font-semibold hover:border-ink');

    return (
        <header className="flex flex-wrap items-center gap-x-6 border-b border-rule px-6">
            <span className="text-lg font-bold tracking-tight whitespace-nowrap">Zap Trace</span>
            <nav aria-label="Main" className="flex gap-x-5 whitespace-nowrap max-sm:order-last max-sm:w-full max-sm:flex-wrap">
                <Link to="/" className={link('bench')} aria-current={current === 'bench' ? 'page' : undefined}>
                    Bench
                </Link>
                <Link to="/boards" className={link('boards')} aria-current={current === 'boards' ? 'page' : undefined}>
                    Board profiles
                </Link>
                <Link to="/parts" className={link('parts')} aria-current={current === 'parts' ? 'page' : undefined}>
                    Parts
                </Link>
                <Link to="/practice" className={link('practice')} aria-current={current === 'practice' ? 'page' : undefined}>
                    Practice
                </Link>
                <Link to="/workshop" className={link('workshop')} aria-current={current === 'workshop' ? 'page' : undefined}>
                    Workshop
                </Link>
            </nav>
            <Button
                look="quiet"
                className="ml-auto text-[13px] font-normal"
                onClick={() => chooseTheme(theme === 'day' ? 'lights-out' : 'day')}
            >
                {theme === 'day' ? <Moon aria-hidden size={16} /> : <Sun aria-hidden size={16} />} {theme === 'day' ? 'Lights out' : 'Day'}
            </Button>
        </header>
    );
}
