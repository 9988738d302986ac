//! The demo account and its sessions.

use crate::auth;
use crate::problem::Problem;
use crate::sounds::keep_house;
use crate::state::App;
use lane_files::asset::pcm_bytes;
use lane_wire::DemoAccount;

/// Makes the demo account with its sessions where it is missing, and keeps what is there.
pub async fn seed(app: &App, demo: DemoAccount) -> Result<(), Problem> {
    let store = &app.store;
    if store.account_by_email(demo.email).await?.is_some() {
        return Ok(());
    }
    let sessions = app.sounds.run(lane_house::demo_sessions).await?;
    let account = store.add_account(demo.email, &auth::hash(&app.hashing, demo.password.into()).await?).await?;
    for demo in sessions.iter().rev() {
        for asset in &demo.session.assets {
            let pcm = std::io::Cursor::new(pcm_bytes(demo.bank[&asset.id].samples()));
            store.put_asset(account.id, asset, pcm).await?;
        }
        store.add_session(account.id, &demo.session).await?;
    }
    keep_house(app, account.id).await?;
    Ok(())
}
