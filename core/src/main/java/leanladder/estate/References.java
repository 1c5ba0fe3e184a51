package leanladder.estate;

import java.util.Optional;

/** What ids there are for others to name, asked while parts are read. */
public interface References {
    boolean hasUnit(String id);

    boolean hasAccount(String id);

    /** Whether the group is an access group; empty when there is no such group. */
    Optional<Boolean> isAccessGroup(String id);

    /** Whether the catalogue lists the setting, even if the setting itself could not be read. */
    boolean hasSetting(String key);

    boolean hasWorkspace(String id);

    boolean isRootUnit(String id);

    /** The references that a whole estate answers. Building it is linear in the estate; asking is constant. */
    static References of(Estate estate) {
        var found = new KnownIds();
        estate.units().forEach(u -> found.units.put(u.id(), u));
        estate.accounts().forEach(a -> found.accounts.add(a.id()));
        estate.groups().forEach(g -> found.groups.put(g.id(), g));
        estate.workspaces().forEach(w -> found.workspaces.add(w.id()));
        found.settings = estate.catalogue().settings().keySet();
        return found;
    }
}
