package leanladder.estate.read;

import java.util.Optional;
import leanladder.estate.Estate;
import leanladder.estate.Group;

/** What ids there are for others to name, asked while parts are read. */
public interface References {
    boolean hasUnit(String id);

    boolean hasAccount(String id);

    /** Whether the group is an access group; empty when there is no such group. */
    Optional<Boolean> isAccessGroup(String id);

    /** Whether the catalogue lists the setting, even if the setting itself could not be read. */
    boolean hasSetting(String key);

    boolean hasWorkspace(String id);

    boolean hasHosting(String id);

    /** Whether the content of a picture is there. @param sha256 in lower-case hexadecimal digits */
    boolean hasPicture(String sha256);

    boolean isRootUnit(String id);

    /** Whether there is what a target of a value of people names: the organisation, a unit, a group of either purpose or an account. */
    default boolean hasPeople(String target) {
        String id = target.substring(target.indexOf(':') + 1);
        if (target.startsWith("unit:")) return hasUnit(id);
        if (target.startsWith("group:")) return isAccessGroup(id).isPresent();
        return !target.startsWith("account:") || hasAccount(id);
    }

    /** The references that a whole estate answers; asking is logarithmic at most. */
    static References from(Estate estate) {
        return new References() {
            @Override
            public boolean hasUnit(String id) {
                return estate.unit(id).isPresent();
            }

            @Override
            public boolean hasAccount(String id) {
                return estate.account(id).isPresent();
            }

            @Override
            public Optional<Boolean> isAccessGroup(String id) {
                return estate.group(id).map(Group::access);
            }

            @Override
            public boolean hasSetting(String key) {
                return estate.catalogue().setting(key).isPresent();
            }

            @Override
            public boolean hasWorkspace(String id) {
                return estate.workspace(id).isPresent();
            }

            @Override
            public boolean hasHosting(String id) {
                return estate.hosting(id).isPresent();
            }

            @Override
            public boolean hasPicture(String sha256) {
                return estate.pictures().contains(sha256);
            }

            @Override
            public boolean isRootUnit(String id) {
                return estate.unit(id).filter(u -> u.parent().isEmpty()).isPresent();
            }
        };
    }
}
