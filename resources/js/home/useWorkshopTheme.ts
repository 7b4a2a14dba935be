import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import { workshopQuery } from '../api/queries';
import { takeWorkshopTheme } from '../ui/theme';

/** The theme that the workshop wants, once it is known. */
export function useWorkshopTheme(): void {
    const theme = useQuery({ ...workshopQuery, staleTime: 60_000 }).data?.workshop.theme;
    useEffect(() => {
        if (theme) {
            takeWorkshopTheme(theme);
        }
    }, [theme]);
}
